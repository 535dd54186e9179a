import type { Accessor } from '@gltf-transform/core';

/** All values of an accessor as floats, normalised integers scaled to their range. [count · width] */
export function readAccessor(accessor: Accessor): Float32Array {
  const array = accessor.getArray()!;
  if (array instanceof Float32Array) return array.slice();
  const width = accessor.getElementSize();
  const values = new Float32Array(accessor.getCount() * width);
  const row: number[] = [];
  for (let i = 0; i < accessor.getCount(); i++) {
    accessor.getElement(i, row);
    for (let k = 0; k < width; k++) values[width * i + k] = row[k]!;
  }
  return values;
}
