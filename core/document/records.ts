import type { BodyShape } from '../bodies/index.ts';
import { completeFabric, type FabricSettings, type WindSettings } from '../cloth/index.ts';
import type { ChannelKind } from '../reach/index.ts';
import type { BodyShape as BodyMorphs } from '../rig/index.ts';

/**
 * What an artist authors, as plain records keyed by id. Large arrays stand beside the records, keyed by the
 * channel that owns them. Lengths in metres.
 */
export type RecordId = string & { readonly brand: 'RecordId' };

export interface GarmentRecord {
  type: 'garment';
  id: RecordId;
  name: string;
  /** Place in the list, from the skin outward. */
  order: number;
  /** Section of the character, with its name, to find it again in a new version of the file. */
  sectionIndex: number;
  sectionName: string;
  fabricId: RecordId;
  bodySetId: RecordId;
  /** How the warp lies against V of the UVs, rad. */
  warpTurn: number;
  /** Share of the simulation in what is shown and measured: 0 skinned, 1 simulated. */
  blend: number;
  /**
   * Sections that are drawn in place of the simulated one and follow it: then `sectionIndex` is a sim mesh. Empty when
   * the section is simulated itself.
   */
  renders: readonly SectionName[];
  /** `inside`: of a garment with two sides the inner one rides on the outer instead of being simulated. */
  lining: 'none' | 'inside';
}

/** A section by its place in the character, with its name, to find it again when places have changed. */
export interface SectionName {
  sectionIndex: number;
  sectionName: string;
}

export const GARMENT_DEFAULTS: Pick<GarmentRecord, 'warpTurn' | 'blend' | 'renders' | 'lining'> = {
  warpTurn: 0,
  blend: 1,
  renders: [],
  lining: 'none',
};

/** What a step of preparation does, with its settings. Lengths in metres. */
export type StepAct =
  | { kind: 'weld' | 'dropFaces' | 'turnFaces' | 'joinRows' | 'splitPieces' | 'alignDiagonals' }
  | { kind: 'evenOut'; edgeLength: number }
  /** Out of the body, to a distance. */
  | { kind: 'pushOut'; offset: number }
  /** Lengths at rest are those of the first frame of a clip, not of the bind pose. */
  | { kind: 'restInPose'; clipName: string }
  | { kind: 'transferWeights'; maxDistance: number; maxAngle: number; influences: number }
  | { kind: 'transferMorphs'; maxDistance: number; maxAngle: number }
  /** All joints but the kept ones give their weight to one. */
  | { kind: 'handOverWeights'; keptJoints: readonly string[]; toJoint: string }
  | { kind: 'smoothWeights'; strength: number; times: number }
  | { kind: 'limitWeights'; influences: number; least: number }
  /** The picked part becomes a section of its own; what was picked is an array beside. */
  | { kind: 'cut'; name: string }
  /** An even mesh over this section and more, to be simulated in their place. Its surface is an array beside. */
  | { kind: 'makeSimMesh'; edgeLength: number; borderDetail: number; others: readonly SectionName[] }
  /** A flat strip of a few triangles, to be simulated in the place of this section and more. */
  | { kind: 'makeCard'; rows: number; others: readonly SectionName[] }
  /** The section is simulated in place of others, and not drawn. */
  | { kind: 'useAsSimMesh' }
  /** An inner side behind an open surface, and a rim. */
  | { kind: 'thicken'; thickness: number; rim: 'rounded' | 'square' }
  /** Points moved by hand; the ways are an array beside. */
  | { kind: 'movePoints'; keepsLengths: boolean }
  /** Skin weights set by hand, of these joints; the weights are an array beside. */
  | { kind: 'setWeights'; joints: readonly string[] };

export type StepKind = StepAct['kind'];

/**
 * One step in the preparation of a character's sections. Steps are replayed on the source in their order, so the source
 * is never altered, and a new version of it runs through the same steps.
 */
export interface StepRecord extends SectionName {
  type: 'step';
  id: RecordId;
  order: number;
  act: StepAct;
}

/**
 * A map: values of one channel at every point of a garment; the values themselves are an array beside the record. A
 * garment may have several of a kind, of which one is in use.
 */
export interface ChannelRecord {
  type: 'channel';
  id: RecordId;
  garmentId: RecordId;
  kind: ChannelKind;
  name: string;
  isInUse: boolean;
  pointCount: number;
}

export interface FabricRecord {
  type: 'fabric';
  id: RecordId;
  name: string;
  settings: FabricSettings;
}

export interface BodySetRecord {
  type: 'bodySet';
  id: RecordId;
  name: string;
}

export interface BodyRecord {
  type: 'body';
  id: RecordId;
  bodySetId: RecordId;
  name: string;
  jointName: string;
  shape: BodyShape;
}

/** One per character. */
export interface SceneRecord extends WindSettings {
  type: 'scene';
  id: RecordId;
  /** Name of the clip that was last looked at; null for the bind pose. */
  clipName: string | null;
  /** Milliseconds a frame that cloth may cost. */
  budgetMilliseconds: number;
  /** Values of morph targets by name, in which the character is looked at and measured. */
  morphs: BodyMorphs;
}

export type AuthoredRecord =
  | GarmentRecord
  | ChannelRecord
  | FabricRecord
  | BodySetRecord
  | BodyRecord
  | SceneRecord
  | StepRecord;

export type RecordType = AuthoredRecord['type'];

export const SCENE_ID = 'scene' as RecordId;

export const SCENE_DEFAULTS: Readonly<SceneRecord> = {
  type: 'scene',
  id: SCENE_ID,
  clipName: null,
  windSpeed: 0,
  windDirection: 180,
  windGusts: 0.4,
  windTurbulence: 0.3,
  budgetMilliseconds: 12,
  morphs: {},
};

/** Everything authored for one character. */
export interface AuthoredDocument {
  records: Map<RecordId, AuthoredRecord>;
  /** Channel id → values, [pointCount]; id of a step → what was picked, made or done by hand, packed. */
  arrays: Map<RecordId, Float32Array>;
}

export function createDocument(): AuthoredDocument {
  return { records: new Map([[SCENE_ID, { ...SCENE_DEFAULTS }]]), arrays: new Map() };
}

export function listRecords<T extends RecordType>(
  document: Pick<AuthoredDocument, 'records'>,
  type: T,
): Extract<AuthoredRecord, { type: T }>[] {
  const found: Extract<AuthoredRecord, { type: T }>[] = [];
  for (const record of document.records.values()) {
    if (record.type === type) found.push(record as Extract<AuthoredRecord, { type: T }>);
  }
  return found;
}

/** Garments from the skin outward. */
export function listGarments(document: Pick<AuthoredDocument, 'records'>): GarmentRecord[] {
  return listRecords(document, 'garment').sort((p, q) => p.order - q.order || (p.id < q.id ? -1 : 1));
}

export function getScene(document: Pick<AuthoredDocument, 'records'>): SceneRecord {
  const scene = document.records.get(SCENE_ID);
  return scene?.type === 'scene' ? scene : { ...SCENE_DEFAULTS };
}

/** Maps of a garment, of one channel or of all, by name. */
export function listMaps(
  document: Pick<AuthoredDocument, 'records'>,
  garmentId: RecordId,
  kind?: ChannelKind,
): ChannelRecord[] {
  return listRecords(document, 'channel')
    .filter((map) => map.garmentId === garmentId && (kind === undefined || map.kind === kind))
    .sort((p, q) => p.name.localeCompare(q.name, 'en', { numeric: true }) || (p.id < q.id ? -1 : 1));
}

/** The map of a channel that is in use, or null. */
export function findChannel(
  document: Pick<AuthoredDocument, 'records'>,
  garmentId: RecordId,
  kind: ChannelKind = 'maxDistance',
): ChannelRecord | null {
  return listMaps(document, garmentId, kind).find(({ isInUse }) => isInUse) ?? null;
}

/** Steps of preparation in the order in which they are replayed. */
export function listSteps(document: Pick<AuthoredDocument, 'records'>): StepRecord[] {
  return listRecords(document, 'step').sort((p, q) => p.order - q.order || (p.id < q.id ? -1 : 1));
}

export function listBodies(document: Pick<AuthoredDocument, 'records'>, bodySetId: RecordId): BodyRecord[] {
  return listRecords(document, 'body')
    .filter((body) => body.bodySetId === bodySetId)
    .sort((p, q) => p.shape.node - q.shape.node || (p.id < q.id ? -1 : 1));
}

const STEADY: Partial<SceneRecord> = { windGusts: 0, windTurbulence: 0 };

/** A record as this version keeps it, from one that an earlier version wrote. */
export function completeRecord(record: AuthoredRecord): AuthoredRecord {
  switch (record.type) {
    case 'garment':
      return { ...GARMENT_DEFAULTS, ...record };
    case 'channel':
      return { ...record, isInUse: record.isInUse ?? true };
    case 'scene':
      // Before there were gusts the wind was steady.
      return { ...SCENE_DEFAULTS, ...STEADY, ...record };
    case 'fabric':
      return { ...record, settings: completeFabric(record.settings) };
    default:
      return record;
  }
}
