import { countBodies, type GarmentRecord, type RecordId } from '../../core/document/index.ts';
import { tellVertices } from '../../core/math/index.ts';
import type { MeshFinding } from '../../core/mesh/index.ts';
import type { ReachWarning } from '../../core/reach/index.ts';
import { findSection } from '../../core/rig/index.ts';
import type { CaseFrame, TrialPlace } from '../../core/trials/index.ts';
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
  at?: { time: number; position: [number, number, number] };
  /** Welded vertices of the garment to mark. */
  points?: readonly number[];
}

/** Penetration deeper than this (metres) is worth a finding; deeper than the second is severe. */
const PENETRATION = { warning: 0.004, severe: 0.015 };

/** Show-through of a larger area (m²) is worth a finding; of more than the second it is severe. */
const SHOW_THROUGH = { warning: 0.0003, severe: 0.002 };

/**
 * Problems of one garment, worst first. Cheap: called on every change.
 * @param reach - What was found of its max distances, see `ReachWatch`.
 * @param mesh - What was found of the mesh that is simulated; null before it was checked.
 */
export function listFindings(
  editor: Editor,
  garment: GarmentRecord,
  frames: readonly CaseFrame[],
  mesh: readonly MeshFinding[] | null,
  reach: readonly ReachWarning[],
): Finding[] {
  const findings = [
    ...checkSection(editor, garment),
    ...reach.map(tellReach),
    ...checkBodies(editor, garment),
    ...checkTrial(garment.id, frames),
    ...tellMesh(garment, mesh ?? []),
  ];
  const order = { severe: 0, warning: 1, note: 2 };
  return findings.sort((p, q) => order[p.severity] - order[q.severity]);
}

/** What a warning about max distances says. */
function tellReach({ kind, count, points }: ReachWarning): Finding {
  const many = count.toLocaleString('en');
  const told: Record<ReachWarning['kind'], Pick<Finding, 'severity' | 'title' | 'details'>> = {
    'nothing-held': {
      severity: 'severe',
      title: 'Nothing is held',
      details:
        'No vertex has a max distance of 0, so the whole garment can slide off. Pick a seam and hold it.',
    },
    'all-held': {
      severity: 'warning',
      title: 'Everything is held',
      details: 'The max distance is 0 everywhere, so nothing moves. Flood a value, or paint one.',
    },
    'unheld-piece': {
      severity: 'severe',
      title: count === 1 ? 'A piece is not held' : `${many} pieces are not held`,
      details: `${tellVertices(points.length)} can fall off: no edge leads from there to a held vertex.`,
    },
    stray: {
      severity: 'note',
      title: count === 1 ? 'A stray value' : `${many} stray values`,
      details: 'A single vertex is far from those around it. Smooth there.',
    },
    'out-of-reach': {
      severity: 'note',
      title: `${tellVertices(count)} out of reach`,
      details: 'Max distance exceeds the cloth length to a held vertex. Clamp it in Reach, under Look.',
    },
  };
  return { kind, stage: 'reach', ...told[kind], ...(points.length > 0 && { points }) };
}

/** A new version of the file may lack the section that a garment is made of. */
function checkSection(editor: Editor, garment: GarmentRecord): Finding[] {
  if (findSection(editor.character, garment) >= 0) return [];
  return [
    {
      kind: 'no-section',
      severity: 'severe',
      title: 'Its section is missing',
      details: `The file has no section "${garment.sectionName}". What was painted is kept: bring in a version that has it, and match it by name.`,
      stage: 'intake',
    },
  ];
}

function checkBodies(editor: Editor, garment: GarmentRecord): Finding[] {
  if (countBodies(editor.document, garment.bodySetId) > 0) return [];
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

function checkTrial(garmentId: RecordId, frames: readonly CaseFrame[]): Finding[] {
  return [...checkShowThrough(garmentId, frames), ...checkPenetration(garmentId, frames)];
}

/** The frame in which a garment is worst by a measure, with the place; null when it is 0 in all. */
function findWorst(
  garmentId: RecordId,
  frames: readonly CaseFrame[],
  key: 'showThrough' | 'penetration',
): { time: number; value: number; place: TrialPlace } | null {
  let worst: { time: number; value: number; place: TrialPlace } | null = null;
  for (const { time, garments } of frames) {
    const garment = garments.find((one) => one.garmentId === garmentId);
    const place = garment?.places[key];
    if (garment && place && garment[key] > (worst?.value ?? 0)) worst = { time, value: garment[key], place };
  }
  return worst;
}

function checkShowThrough(garmentId: RecordId, frames: readonly CaseFrame[]): Finding[] {
  const worst = findWorst(garmentId, frames, 'showThrough');
  if (!worst || worst.value < SHOW_THROUGH.warning) return [];
  const { time, value, place } = worst;
  return [
    {
      kind: 'show-through',
      severity: value >= SHOW_THROUGH.severe ? 'severe' : 'warning',
      title: `${(10_000 * value).toFixed(value < 0.001 ? 1 : 0)} cm² show through`,
      details: `Of what it covers, ${time.toFixed(2)} s into the clip.`,
      stage: 'bodies',
      at: { time, position: place.position },
    },
  ];
}

function checkPenetration(garmentId: RecordId, frames: readonly CaseFrame[]): Finding[] {
  const worst = findWorst(garmentId, frames, 'penetration');
  if (!worst || worst.value < PENETRATION.warning) return [];
  const { time, value, place } = worst;
  return [
    {
      kind: 'penetration',
      severity: value >= PENETRATION.severe ? 'severe' : 'warning',
      title: `${(1000 * value).toFixed(1)} mm into the body`,
      details: `Vertex ${place.point}, ${time.toFixed(2)} s into the clip.`,
      stage: 'bodies',
      at: { time, position: place.position },
    },
  ];
}

/** Notes on a mesh stay in its own stage. */
function tellMesh(garment: GarmentRecord, findings: readonly MeshFinding[]): Finding[] {
  return findings
    .filter(({ severity }) => severity !== 'note')
    .map(({ kind, severity, sentence }) => ({
      kind,
      severity,
      title: MESH_TITLES[kind],
      details: sentence,
      stage: garment.renders.length > 0 ? 'simMesh' : 'garment',
    }));
}

/** What a finding of a mesh is called. */
export const MESH_TITLES: Record<MeshFinding['kind'], string> = {
  unweldedSeam: 'Open seam',
  sliver: 'Slivers',
  duplicateFace: 'Doubled triangles',
  nonManifoldEdge: 'Edges with too many triangles',
  touchingPoint: 'Parts that meet in one vertex',
  flippedFace: 'Turned triangles',
  thinRow: 'Thin rows',
  unevenSpacing: 'Uneven spacing',
  loosePiece: 'Loose pieces',
  crossedDiagonal: 'Diagonals that disagree',
  poseStretch: 'Stretched before it moves',
  badNormal: 'Broken normals',
  weightless: 'Vertices without weights',
  sunkIn: 'Sunk into the body',
  uvMissing: 'No UVs',
  uvOverlap: 'UVs overlap',
  uvFlip: 'Mirrored UVs',
  uvStretch: 'Stretched UVs',
  uvTinyIsland: 'Tiny UV islands',
};
