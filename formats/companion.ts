import type { SourceFile } from './source-file.ts';

/** A file that came along with another, by the last part of the path that names it; letters' case matters only where several differ in it. */
export function findCompanion(others: readonly SourceFile[], path: string): SourceFile | null {
  const wanted = baseName(decodeSafely(path));
  const isSame = (name: string): boolean => baseName(name).toLowerCase() === wanted.toLowerCase();
  return (
    others.find(({ name }) => baseName(name) === wanted) ?? others.find(({ name }) => isSame(name)) ?? null
  );
}

/** The bytes that a data URI holds; undefined when it is none. @throws {Error} when its base64 is not valid. */
export function decodeDataUri(uri: string): Uint8Array | undefined {
  const data = uri.match(/^data:[^,]*?(;base64)?,(.*)$/s);
  if (!data) return undefined;
  const text = data[1] ? atob(data[2]!) : decodeURIComponent(data[2]!);
  return Uint8Array.from(text, (letter) => letter.charCodeAt(0));
}

/** The last part of a path, without escapes. */
export function tellFileName(path: string): string {
  return baseName(decodeSafely(path));
}

function decodeSafely(uri: string): string {
  try {
    return decodeURIComponent(uri);
  } catch {
    return uri;
  }
}

function baseName(path: string): string {
  return path.split(/[/\\]/).pop()!;
}
