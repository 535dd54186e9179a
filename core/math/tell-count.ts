/** A number of things in words: "1 vertex", "1,041 vertices". */
export function tellCount(count: number, one: string, many = `${one}s`): string {
  return `${count.toLocaleString('en')} ${count === 1 ? one : many}`;
}

/** See `tellCount`. */
export const tellVertices = (count: number): string => tellCount(count, 'vertex', 'vertices');
