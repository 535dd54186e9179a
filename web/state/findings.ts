import { findChannel, type GarmentRecord, listBodies, type RecordId } from '../../core/document/index.ts';
import { computeTriangleAreas, weldTriangles } from '../../core/mesh/index.ts';
import type { TrialFrame } from '../../core/trials/index.ts';
import type { Editor } from './editor.ts';
import type { Stage } from './session.ts';

export interface Finding {
  kind: string;
  severity: 'severe' | 'warning' | 'note';
  title: string;
  details: string;
  /** Where it is mended. */
  stage: Stage;
  /** Time of the clip to go to, s, and the place to look at. */
  at?: { time: number; place: [number, number, number] };
}

/** Penetration deeper than this (metres) is worth a finding; deeper than the second is severe. */
const PENETRATION = { warning: 0.004, severe: 0.015 };
/** Triangles lower than this (metres) cost much and do little. */
const THIN_HEIGHT = 0.008;

/** Problems of one garment, worst first. Cheap: called on every change. */
export function listFindings(
  editor: Editor,
  garment: GarmentRecord,
  frames: readonly TrialFrame[],
): Finding[] {
  const findings = [
    ...checkReach(editor, garment),
    ...checkBodies(editor, garment),
    ...checkTrial(garment.id, frames),
    ...checkThinTriangles(editor, garment),
  ];
  const order = { severe: 0, warning: 1, note: 2 };
  return findings.sort((p, q) => order[p.severity] - order[q.severity]);
}

function checkReach(editor: Editor, garment: GarmentRecord): Finding[] {
  const channel = findChannel(editor.document, garment.id);
  const values = channel && editor.document.arrays.get(channel.id);
  if (!values) return [];
  let held = 0;
  for (const value of values) if (value === 0) held++;
  if (held === 0) {
    return [
      {
        kind: 'nothing-held',
        severity: 'severe',
        title: 'Nothing is held',
        details: 'No point has a max distance of 0: the whole garment can slide off.',
        stage: 'reach',
      },
    ];
  }
  if (held === values.length) {
    return [
      {
        kind: 'all-held',
        severity: 'warning',
        title: 'Everything is held',
        details: 'The max distance is 0 everywhere, so nothing moves. Flood a value, or paint one.',
        stage: 'reach',
      },
    ];
  }
  return [];
}

function checkBodies(editor: Editor, garment: GarmentRecord): Finding[] {
  if (listBodies(editor.document, garment.bodySetId).length > 0) return [];
  return [
    {
      kind: 'no-bodies',
      severity: 'warning',
      title: 'No bodies',
      details: 'Nothing keeps the cloth out of the character. Suggest bodies from the skin.',
      stage: 'bodies',
    },
  ];
}

function checkTrial(garmentId: RecordId, frames: readonly TrialFrame[]): Finding[] {
  let worst: TrialFrame | null = null;
  for (const frame of frames) {
    if (frame.deepest?.garmentId === garmentId && frame.penetration > (worst?.penetration ?? 0))
      worst = frame;
  }
  if (!worst?.deepest || worst.penetration < PENETRATION.warning) return [];
  return [
    {
      kind: 'penetration',
      severity: worst.penetration >= PENETRATION.severe ? 'severe' : 'warning',
      title: `${(1000 * worst.penetration).toFixed(1)} mm into the body`,
      details: `Point ${worst.deepest.point}, ${worst.time.toFixed(2)} s into the clip.`,
      stage: 'bodies',
      at: { time: worst.time, place: worst.deepest.place },
    },
  ];
}

const thinOfSection = new WeakMap<object, number>();

function checkThinTriangles(editor: Editor, garment: GarmentRecord): Finding[] {
  const section = editor.character.sections[garment.sectionIndex];
  if (!section) return [];
  let thin = thinOfSection.get(section);
  if (thin === undefined) {
    const identity = Uint32Array.from({ length: section.positions.length / 3 }, (_, v) => v);
    const triangles = weldTriangles(section.triangles, identity);
    const areas = computeTriangleAreas(section.positions, triangles);
    thin = areas.reduce(
      (count, area, t) =>
        count + (area > 0 && (2 * area) / longestSide(section.positions, triangles, t) < THIN_HEIGHT ? 1 : 0),
      0,
    );
    thinOfSection.set(section, thin);
  }
  if (thin === 0) return [];
  return [
    {
      kind: 'thin',
      severity: 'note',
      title: `${thin} thin triangles`,
      details: `Lower than ${1000 * THIN_HEIGHT} mm: a hem or piping row that is simulated for little.`,
      stage: 'garment',
    },
  ];
}

function longestSide(positions: Float32Array, triangles: Uint32Array, t: number): number {
  let longest = 0;
  for (let k = 0; k < 3; k++) {
    const a = 3 * triangles[3 * t + k]!;
    const b = 3 * triangles[3 * t + ((k + 1) % 3)]!;
    longest = Math.max(
      longest,
      Math.hypot(
        positions[b]! - positions[a]!,
        positions[b + 1]! - positions[a + 1]!,
        positions[b + 2]! - positions[a + 2]!,
      ),
    );
  }
  return longest;
}
