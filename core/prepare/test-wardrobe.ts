import type { AuthoredDocument, RecordId } from '../document/index.ts';
import { computeVertexNormals, type Surface } from '../mesh/index.ts';
import { createGrid, createTube } from '../mesh/test-surfaces.ts';
import { type Character, createRigidCharacter, type Section } from '../rig/index.ts';
import type { StepAct } from '../steps/index.ts';

/** A leg and a skirt over it on two joints, hip and knee; moved and turned in their own space against the world. */
export function createWardrobe(skirt: Surface & { uvs?: Float32Array } = createSkirt()): Character {
  const leg = createTube(40, 60, () => 0.1);
  const character = createRigidCharacter('wardrobe', leg.positions, leg.triangles);
  // From own space to the world: a quarter turn about Y, and twice as large.
  const inverseBinds = new Float32Array(32);
  const node = (at: number, lift: number): void =>
    inverseBinds.set([0, 0, -2, 0, 0, 2, 0, 0, 2, 0, 0, 0, 0, lift, 0, 1], at);
  node(0, 0);
  node(16, 0.35);
  const skeleton = {
    names: ['hip', 'knee', 'Leg', 'Skirt'],
    parents: Int32Array.from([-1, 0, -1, -1]),
    translations: Float64Array.from([0, 0, 0, 0, -0.35, 0, 0, 0, 0, 0, 0, 0]),
    rotations: Float64Array.from({ length: 16 }, (_, i) => (i % 4 === 3 ? 1 : 0)),
    scales: new Float64Array(12).fill(1),
  };
  const base: Section = { ...character.sections[0]!, isRigid: false, influences: 4, node: 0, skin: 0 };
  return {
    ...character,
    skeleton,
    skins: [{ name: 'leg', joints: Uint32Array.of(0, 1), inverseBinds }],
    sections: [dress(base, 'Leg', leg, gradeDown), dress(base, 'Skirt', skirt, () => [1, 0])],
    clips: [
      {
        name: 'bow',
        duration: 1,
        tracks: [
          {
            node: 1,
            path: 'rotation',
            interpolation: 'LINEAR',
            times: Float32Array.of(0, 1),
            values: Float32Array.of(0.38, 0, 0, 0.924, 0.38, 0, 0, 0.924),
          },
        ],
      },
    ],
  };
}

const gradeDown = (y: number): [number, number] => {
  const knee = Math.min(1, Math.max(0, -y / 0.7));
  return [1 - knee, knee];
};

function dress(
  base: Section,
  name: string,
  { positions, triangles, uvs }: Surface & { uvs?: Float32Array },
  weigh: (y: number) => [number, number],
): Section {
  const count = positions.length / 3;
  const own = new Float32Array(3 * count);
  const jointIndices = new Uint16Array(4 * count);
  const jointWeights = new Float32Array(4 * count);
  for (let v = 0; v < count; v++) {
    const [x, y, z] = [positions[3 * v]!, positions[3 * v + 1]!, positions[3 * v + 2]!];
    own.set([-0.5 * z, 0.5 * y, 0.5 * x], 3 * v);
    const [hip, knee] = weigh(y);
    jointIndices.set([0, knee > 0 ? 1 : 0, 0, 0], 4 * v);
    jointWeights.set([hip, knee, 0, 0], 4 * v);
  }
  return {
    ...base,
    name,
    meshName: name,
    node: name === 'Leg' ? 2 : 3,
    positions: own,
    normals: computeVertexNormals(own, triangles, new Float32Array(own.length)),
    triangles,
    uvs: uvs ?? null,
    colors: null,
    jointIndices,
    jointWeights,
  };
}

/** A flared sheet rolled around the leg, its first column doubled along the seam of its UVs. */
export function createSkirt(columns = 40, rows = 24): Surface & { uvs: Float32Array } {
  const sheet = createGrid(columns, rows, (u, v) => {
    // Exactly the same place on both sides of the seam.
    const angle = 2 * Math.PI * (u === 1 ? 0 : u) + 0.3;
    const radius = 0.12 + 0.1 * v;
    return [radius * Math.cos(angle), -0.6 * v, radius * Math.sin(angle)];
  });
  const uvs = new Float32Array((2 * sheet.positions.length) / 3);
  for (let v = 0; v < uvs.length / 2; v++) {
    uvs.set([(v % (columns + 1)) / columns, Math.floor(v / (columns + 1)) / rows], 2 * v);
  }
  return { ...sheet, uvs };
}

let stepCount = 0;

/** Adds a step to a document. @returns Its id. */
export function addStep(
  document: AuthoredDocument,
  sectionName: string,
  act: StepAct,
  sectionIndex = 1,
): RecordId {
  const id = `step-${++stepCount}` as RecordId;
  document.records.set(id, { type: 'step', id, order: stepCount, sectionIndex, sectionName, act });
  return id;
}
