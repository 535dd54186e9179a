import { type FabricSettings, LIBRARY_FABRICS } from '../core/cloth/index.ts';
import {
  type AuthoredDocument,
  createDocument,
  createGarment,
  insertGarment,
  type Limits,
  listGarments,
  listRecords,
  parseBodySet,
  placeBodySet,
  type RecordId,
  SCENE_DEFAULTS,
  SCENE_ID,
  toSetRecords,
} from '../core/document/index.ts';
import { weldPoints } from '../core/mesh/index.ts';
import type { Character } from '../core/rig/index.ts';
import pilotBodies from './body-sets/ferry-pilot.json' with { type: 'json' };
import lamplighterBodies from './body-sets/lamplighter.json' with { type: 'json' };
import { findLayout } from './garments/sheet-layouts.ts';

interface DemoGarment {
  section: string;
  fabric: { name: string; settings: FabricSettings };
  /** Share of the way down (0 to 1) that is held, and the max distance at the hem, m. */
  held: number;
  hem: number;
  /** Slope where the max distance begins, over the mean slope: below 1 it grows slowly at first, above 1 fast. Default 0.35. */
  rise?: number;
  /** Garments that it never comes near. */
  clearOf?: readonly string[];
}

const PILOT: readonly DemoGarment[] = [
  { section: 'Sash tail', fabric: findFabric('Wool felt'), held: 0.04, hem: 0.3, rise: 0.9 },
  { section: 'Poncho', fabric: layOver('Oilskin', 0.018), held: 0.1, hem: 0.5, rise: 0.75 },
];

/** What both keep on all clips: no cloth in the skin; a sash and a hem that whip at a run, and a smock that a crouch pulls at, may. */
const LIMITS: Limits = { penetration: 0.003, stretch: 0.22, jitter: 0.0025 };

/** From the skin outward. */
const LAMPLIGHTER: readonly DemoGarment[] = [
  // Held down to the belt, so that it does not well up over that of the apron.
  {
    section: 'Under-smock',
    fabric: findFabric('Cotton poplin'),
    held: 0.38,
    hem: 0.26,
    rise: 0.5,
  },
  {
    section: 'Work apron',
    fabric: layOver('Garment leather', 0.012),
    held: 0.02,
    hem: 0.45,
    rise: 1,
  },
  { section: 'Neck scarf', fabric: layOver('Wool serge', 0.008), held: 0.22, hem: 0.25 },
  {
    section: 'Tool roll',
    fabric: findFabric('Denim'),
    held: 0.1,
    hem: 0.1,
    clearOf: ['Work apron', 'Neck scarf'],
  },
];

function findFabric(name: string): DemoGarment['fabric'] {
  const found = LIBRARY_FABRICS.find((fabric) => fabric.name === name);
  if (!found) throw new Error(`There is no fabric "${name}".`);
  return found;
}

/** A fabric that keeps clear of the garments beneath it. @param layerMargin - m. */
function layOver(name: string, layerMargin: number): DemoGarment['fabric'] {
  const { settings } = findFabric(name);
  return { name, settings: { ...settings, layerMargin } };
}

/** What an artist would have authored for the Ferry pilot by the end of a first session. */
export function createPilotDocument(character: Character): AuthoredDocument {
  return author(character, PILOT, 'pilot', pilotBodies);
}

/** The same for the Lamplighter. */
export function createLamplighterDocument(character: Character): AuthoredDocument {
  return author(character, LAMPLIGHTER, 'lamplighter', lamplighterBodies);
}

/** @param bodies - A body set that was suggested for the garments, as the workbench exports it. */
function author(
  character: Character,
  garments: readonly DemoGarment[],
  prefix: string,
  bodies: object,
): AuthoredDocument {
  const document = createDocument();
  let count = 0;
  const createId = (): RecordId => `${prefix}-${String(++count).padStart(3, '0')}` as RecordId;
  for (const demo of garments) {
    const sectionIndex = character.sections.findIndex((section) => section.name === demo.section);
    const made = createGarment(character, document, sectionIndex, createId);
    made.fabric.name = demo.fabric.name;
    made.fabric.settings = { ...demo.fabric.settings };
    made.garment.clearOf = listGarments(document)
      .filter(({ name }) => demo.clearOf?.includes(name))
      .map(({ id }) => id);
    insertGarment(document, made, gradeDown(character, sectionIndex, demo));
  }
  const bodySet = listRecords(document, 'bodySet')[0]!;
  const file = parseBodySet(JSON.stringify(bodies));
  for (const body of toSetRecords(placeBodySet(file, character), bodySet.id, createId))
    document.records.set(body.id, body);
  document.records.set(SCENE_ID, { ...SCENE_DEFAULTS, clipName: 'walk', windSpeed: 0, trialLimits: LIMITS });
  return document;
}

/** Max distance from zero at the top to `hem` at the bottom of the sheet. [points] */
function gradeDown(
  character: Character,
  sectionIndex: number,
  { held, hem, rise = 0.35 }: DemoGarment,
): Float32Array {
  const section = character.sections[sectionIndex]!;
  const { vertexOfPoint } = weldPoints(section.positions);
  const layout = findLayout(section.name);
  return Float32Array.from(vertexOfPoint, (vertex) => {
    const [, down] = layout.find(section.uvs![2 * vertex]!, section.uvs![2 * vertex + 1]!);
    const t = Math.max(0, (down - held) / (1 - held));
    return hem * t * (rise + (1 - rise) * t);
  });
}
