import { createRandom } from '../../math/index.ts';
import type { Character, Clip, Section } from '../../rig/index.ts';
import type { GarmentSpec } from './garment-spec.ts';
import { createTube, type TubeMesh } from './tube-mesh.ts';

/** Joints: hips at the root, then thigh and shin of either leg. */
export const JOINTS = ['hips', 'thigh_l', 'shin_l', 'thigh_r', 'shin_r'] as const;
const PARENTS = [-1, 0, 1, 0, 3];
/** Where each joint is in bind pose, m. */
export const JOINT_PLACES = [
  [0, 1, 0],
  [0.09, 0.96, 0],
  [0.1, 0.52, 0],
  [-0.09, 0.96, 0],
  [-0.1, 0.52, 0],
] as const;
export const LEG_LENGTH = 0.44;
export const LEG_RADII = [0.085, 0.055, 0.04] as const;

const INFLUENCES = 4;
/** Between two of the other joints, m. */
const OTHER_LENGTH = 0.01;
const CLIP_SECONDS = 1;
const KEYS = 12;
/** Garments over one another are so far apart, m. */
const LAYER_GAP = 0.02;

/** Two legs that walk, in garments that hang from the hips: innermost first, then what is drawn in their place, the skin last. */
export function createCalibrationCharacter(spec: GarmentSpec): Character {
  const garments = Array.from({ length: spec.layers }, (_, layer) => createGarmentMesh(spec, layer));
  const fine = spec.isDrawnFine ? [createFineMesh(spec)] : [];
  const sections = [
    ...garments.map((mesh, g) => createSection(`garment ${g + 1}`, mesh, g)),
    ...fine.map((mesh) => createSection('drawn', mesh, garments.length)),
    createSection('skin', createLegs(), garments.length + fine.length),
  ];
  if (spec.isDrawnFine) sections[0]!.isSimMesh = true;
  return {
    name: spec.name,
    skeleton: createSkeleton(spec.otherJoints),
    skins: [createSkin(spec.otherJoints)],
    sections,
    clips: [createWalk(spec.otherJoints)],
  };
}

function createGarmentMesh(spec: GarmentSpec, layer: number): TubeMesh {
  const random = createRandom(layer + 1);
  const { rows, columns, unevenness } = spec;
  return createTube(shapeOf(spec, layer), (row, column) => {
    const isEdge = row === 0 || row === rows - 1 || (spec.isOpen && (column === 0 || column === columns - 1));
    const shift = (): number => (isEdge ? 0 : 2 * unevenness * (random() - 0.5));
    return [row + shift(), column + shift()];
  });
}

/** The first garment with twice as many vertices each way. */
function createFineMesh(spec: GarmentSpec): TubeMesh {
  const { rows, columns } = spec;
  return createTube({ ...shapeOf(spec, 0), rows: 2 * rows, columns: 2 * columns });
}

function shapeOf(
  { rows, columns, isOpen, height }: GarmentSpec,
  layer: number,
): Parameters<typeof createTube>[0] {
  const gap = LAYER_GAP * layer;
  return { rows, columns, isOpen, top: 1, height, radii: [0.19 + gap, 0.36 + gap] };
}

/** A tube for each thigh and shin. */
function createLegs(): TubeMesh {
  const parts = [0, 1].flatMap((side) =>
    [0, 1].map((part) => {
      const joint = 1 + 2 * side + part;
      const [x, y] = JOINT_PLACES[joint]!;
      const tube = createTube({
        columns: 12,
        rows: 8,
        isOpen: false,
        top: y,
        height: LEG_LENGTH,
        radii: [LEG_RADII[part]!, LEG_RADII[part + 1]!],
      });
      for (let i = 0; i < tube.positions.length; i += 3) tube.positions[i] = tube.positions[i]! + x;
      return tube;
    }),
  );
  const starts = parts.map((_, p) =>
    parts.slice(0, p).reduce((sum, { positions }) => sum + positions.length / 3, 0),
  );
  return {
    positions: Float32Array.from(parts.flatMap(({ positions }) => [...positions])),
    normals: Float32Array.from(parts.flatMap(({ normals }) => [...normals])),
    triangles: Uint32Array.from(
      parts.flatMap(({ triangles }, p) => [...triangles].map((v) => v + starts[p]!)),
    ),
  };
}

function createSection(
  name: string,
  { positions, normals, triangles }: TubeMesh,
  meshIndex: number,
): Section {
  const vertexCount = positions.length / 3;
  const jointIndices = new Uint16Array(INFLUENCES * vertexCount);
  const jointWeights = new Float32Array(INFLUENCES * vertexCount);
  for (let v = 0; v < vertexCount; v++) {
    const [x, y] = [positions[3 * v]!, positions[3 * v + 1]!];
    // From hips to thigh to shin, going down; left and right by the side that a vertex is on.
    const down = Math.min(1, Math.max(0, (1 - y) / 0.6));
    const hips = Math.max(0, 1 - 2 * down);
    const shin = Math.max(0, 2 * down - 1);
    const side = x >= 0 ? 1 : 3;
    jointIndices.set([0, side, side + 1, 0], INFLUENCES * v);
    jointWeights.set([hips, 1 - hips - shin, shin, 0], INFLUENCES * v);
  }
  return {
    name,
    meshIndex,
    meshName: name,
    primitiveIndex: 0,
    materialName: '',
    node: 0,
    skin: 0,
    isRigid: false,
    positions,
    normals,
    uvs: null,
    colors: null,
    influences: INFLUENCES,
    jointIndices,
    jointWeights,
    triangles,
    morphs: [],
    morphWeights: new Float32Array(0),
    baseColor: [1, 1, 1, 1],
    isTwoSided: true,
  };
}

/** The legs, and a chain of other joints above the hips. */
function createSkeleton(others: number): Character['skeleton'] {
  const n = JOINTS.length + others;
  const translations = new Float64Array(3 * n);
  JOINT_PLACES.forEach((place, j) => {
    const parent = JOINT_PLACES[PARENTS[j]!];
    for (let k = 0; k < 3; k++) translations[3 * j + k] = place[k]! - (parent?.[k] ?? 0);
  });
  for (let j = JOINTS.length; j < n; j++) translations[3 * j + 1] = OTHER_LENGTH;
  const otherNames = Array.from({ length: others }, (_, j) => `other ${j + 1}`);
  return {
    names: [...JOINTS, ...otherNames],
    parents: Int32Array.from([
      ...PARENTS,
      ...otherNames.map((_, j) => (j === 0 ? 0 : JOINTS.length + j - 1)),
    ]),
    translations,
    rotations: Float64Array.from({ length: 4 * n }, (_, i) => (i % 4 === 3 ? 1 : 0)),
    scales: new Float64Array(3 * n).fill(1),
  };
}

function createSkin(others: number): Character['skins'][number] {
  const hips = JOINT_PLACES[0];
  const places = [
    ...JOINT_PLACES,
    ...Array.from(
      { length: others },
      (_, j) => [hips[0], hips[1] + OTHER_LENGTH * (j + 1), hips[2]] as const,
    ),
  ];
  return {
    name: 'skin',
    joints: Uint32Array.from(places, (_, j) => j),
    inverseBinds: Float32Array.from(
      places.flatMap(([x, y, z]) => [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, -x, -y, -z, 1]),
    ),
  };
}

/** Thighs swing to and fro, shins bend behind them, every other of the other joints nods; the end is the start. */
function createWalk(others: number): Clip {
  const legs = [1, 2, 3, 4].map((node) => {
    const side = node < 3 ? 1 : -1;
    const isThigh = node % 2 === 1;
    return createSwing(node, (phase) =>
      isThigh ? -0.6 * side * Math.sin(phase) : 0.4 + 0.4 * side * Math.cos(phase),
    );
  });
  const nods = Array.from({ length: Math.ceil(others / 2) }, (_, j) =>
    createSwing(JOINTS.length + 2 * j, (phase) => 0.01 * Math.sin(phase)),
  );
  return { name: 'walk', duration: CLIP_SECONDS, tracks: [...legs, ...nods] };
}

/** Turns of a joint about X. @param angleAt - Of each phase of the clip, rad. */
function createSwing(node: number, angleAt: (phase: number) => number): Clip['tracks'][number] {
  const times = Float32Array.from({ length: KEYS + 1 }, (_, k) => (CLIP_SECONDS * k) / KEYS);
  const values = Float32Array.from(
    [...times].flatMap((time) => {
      const half = angleAt((2 * Math.PI * time) / CLIP_SECONDS) / 2;
      return [Math.sin(half), 0, 0, Math.cos(half)];
    }),
  );
  return { node, path: 'rotation', interpolation: 'LINEAR', times, values };
}
