import { suggestBodies } from '../core/bodies/index.ts';
import { type FabricSettings, LIBRARY_FABRICS } from '../core/cloth/index.ts';
import {
  type AuthoredDocument,
  createDocument,
  createGarment,
  listBodySections,
  type RecordId,
  SCENE_DEFAULTS,
  SCENE_ID,
} from '../core/document/index.ts';
import { weldPoints } from '../core/mesh/index.ts';
import { bindSection, type Character } from '../core/rig/index.ts';

interface DemoGarment {
  section: string;
  fabric: { name: string; settings: FabricSettings };
  /** Share of the way down (0 to 1) that is held, and the max distance at the hem, m. */
  held: number;
  hem: number;
}

const GARMENTS: readonly DemoGarment[] = [
  { section: 'Sash tail', fabric: LIBRARY_FABRICS[1]!, held: 0.08, hem: 0.3 },
  { section: 'Poncho', fabric: LIBRARY_FABRICS[0]!, held: 0.2, hem: 0.42 },
];

/** What an artist would have authored for the Ferry pilot by the end of a first session. */
export function createPilotDocument(character: Character): AuthoredDocument {
  const document = createDocument();
  let count = 0;
  const createId = (): RecordId => `pilot-${String(++count).padStart(3, '0')}` as RecordId;
  for (const demo of GARMENTS) {
    const sectionIndex = character.sections.findIndex((section) => section.name === demo.section);
    const made = createGarment(character, document, sectionIndex, createId);
    made.fabric.name = demo.fabric.name;
    made.fabric.settings = { ...demo.fabric.settings };
    for (const record of [made.garment, made.channel, made.fabric, made.bodySet]) {
      if (record) document.records.set(record.id, record);
    }
    document.arrays.set(made.channel.id, gradeDown(character, sectionIndex, demo.held, demo.hem));
  }
  addBodies(character, document, createId);
  document.records.set(SCENE_ID, { ...SCENE_DEFAULTS, clipName: 'walk', windSpeed: 0 });
  return document;
}

/** Max distance from zero at the top to `hem` at the bottom, by the V of the UVs. [points] */
function gradeDown(character: Character, sectionIndex: number, held: number, hem: number): Float32Array {
  const section = character.sections[sectionIndex]!;
  const { vertexOfPoint } = weldPoints(section.positions);
  return Float32Array.from(vertexOfPoint, (vertex) => {
    const t = Math.max(0, (section.uvs![2 * vertex + 1]! - held) / (1 - held));
    return hem * t * (0.35 + 0.65 * t);
  });
}

function addBodies(character: Character, document: AuthoredDocument, createId: () => RecordId): void {
  const bodySetId = [...document.records.values()].find((record) => record.type === 'bodySet')!.id;
  const reachable = GARMENTS.flatMap(({ section }) => [
    ...bindSection(
      character,
      character.sections.findIndex((candidate) => candidate.name === section),
    ),
  ]);
  const bodies = suggestBodies(character, {
    sections: listBodySections(document, character),
    reachable: Float32Array.from(reachable),
  });
  for (const { name, coverage: _coverage, overhang: _overhang, ...shape } of bodies) {
    const id = createId();
    document.records.set(id, { type: 'body', id, bodySetId, name, jointName: name, shape });
  }
}
