import { bindSection, type Character } from '../rig/index.ts';

const known = new WeakMap<Character['sections'], number>();

/** How high a character stands in its bind pose, with all that it wears, m; at least 1 mm. */
export function measureHeight(character: Character): number {
  const { sections } = character;
  const before = known.get(sections);
  if (before !== undefined) return before;
  let [least, most] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
  sections.forEach(({ isSimMesh }, s) => {
    if (isSimMesh) return;
    const positions = bindSection(character, s);
    for (let i = 1; i < positions.length; i += 3) {
      least = Math.min(least, positions[i]!);
      most = Math.max(most, positions[i]!);
    }
  });
  const height = Math.max(0.001, Number.isFinite(most - least) ? most - least : 0);
  known.set(sections, height);
  return height;
}
