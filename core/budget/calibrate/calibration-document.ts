import {
  type AuthoredDocument,
  BODY_DEFAULTS,
  type BodyRecord,
  createDocument,
  createGarment,
  getScene,
  insertGarment,
  type RecordId,
  SCENE_ID,
} from '../../document/index.ts';
import type { Character } from '../../rig/index.ts';
import { JOINTS, LEG_LENGTH, LEG_RADII } from './calibration-character.ts';
import type { GarmentSpec } from './garment-spec.ts';

const MOST_DISTANCE = 0.4;
const INWARD_DEPTH = 0.05;

/** What is authored for a generated character: garments, their maps, fabric and bodies. Ids are the same each time. */
export function createCalibrationDocument(spec: GarmentSpec, character: Character): AuthoredDocument {
  const document = createDocument();
  let count = 0;
  const createId = (): RecordId => `calibration-${String(++count).padStart(4, '0')}` as RecordId;
  document.records.set(SCENE_ID, {
    ...getScene(document),
    clipName: character.clips[0]!.name,
    windSpeed: spec.wind,
    windDirection: 40,
    windGusts: spec.isGusty ? 0.4 : 0,
    windTurbulence: spec.isGusty ? 0.4 : 0,
  });
  let bodySetId: RecordId | null = null;
  for (let layer = 0; layer < spec.layers; layer++) {
    const made = createGarment(character, document, layer, createId);
    bodySetId ??= made.garment.bodySetId;
    made.fabric.settings = { ...spec.fabric };
    if (layer === 0 && spec.isDrawnFine) {
      const index = spec.layers;
      made.garment.renders = [{ sectionIndex: index, sectionName: character.sections[index]!.name }];
    }
    insertGarment(document, made, gradeDown(character, layer, spec.height));
    if (spec.hasInwardLimit) addInwardLimit(document, made.garment.id, made.channel.pointCount, createId());
  }
  listBodies(spec).forEach((body, b) => {
    const id = createId();
    const name = `body ${b + 1}`;
    document.records.set(id, { type: 'body', id, bodySetId: bodySetId!, name, ...BODY_DEFAULTS, ...body });
  });
  if (spec.meetsSkin) {
    const sectionIndex = character.sections.length - 1;
    const { name } = character.sections[sectionIndex]!;
    const id = createId();
    const where = { sectionIndex, sectionName: name, stepId: null, bodySetId: bodySetId! };
    document.records.set(id, { type: 'bodyMesh', id, name, margin: 0, group: 1, ...where });
  }
  return document;
}

/** Max distance from 0 in the uppermost row on downward. [welded vertices] */
function gradeDown(character: Character, section: number, height: number): Float32Array {
  const { positions } = character.sections[section]!;
  return Float32Array.from({ length: positions.length / 3 }, (_, v) => {
    const down = (1 - positions[3 * v + 1]!) / height;
    return down < 1e-6 ? 0 : MOST_DISTANCE * (0.1 + down);
  });
}

function addInwardLimit(
  document: AuthoredDocument,
  garmentId: RecordId,
  pointCount: number,
  id: RecordId,
): void {
  document.records.set(id, {
    type: 'channel',
    id,
    garmentId,
    kind: 'inwardLimit',
    name: 'first',
    isInUse: true,
    pointCount,
  });
  document.arrays.set(id, new Float32Array(pointCount).fill(INWARD_DEPTH));
}

/** Capsules along the legs, thinner the more there are, and boxes at the shins. */
function listBodies({ capsules, boxes }: GarmentSpec): Pick<BodyRecord, 'jointName' | 'shape'>[] {
  const list: Pick<BodyRecord, 'jointName' | 'shape'>[] = [];
  for (let k = 0; k < capsules; k++) {
    const joint = 1 + (k % 4);
    const ring = Math.floor(k / 4);
    const radius = LEG_RADII[joint % 2 === 1 ? 0 : 1]!;
    const side = 0.01 * ring;
    list.push({
      jointName: JOINTS[joint]!,
      shape: {
        kind: 'taperedCapsule',
        a: [side, 0, side],
        b: [side, -LEG_LENGTH, side],
        radiusA: radius,
        radiusB: 0.7 * radius,
      },
    });
  }
  for (let k = 0; k < boxes; k++) {
    const joint = k % 2 === 0 ? 2 : 4;
    list.push({
      jointName: JOINTS[joint]!,
      shape: {
        kind: 'box',
        centre: [0, -0.1 - 0.1 * Math.floor(k / 2), 0.02],
        rotation: [0, 0, 0, 1],
        halfSize: [0.06, 0.05, 0.07],
      },
    });
  }
  return list;
}
