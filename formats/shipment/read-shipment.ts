import type { Document, Primitive } from '@gltf-transform/core';
import {
  type BodyShape,
  createShapeField,
  SHAPE_KINDS,
  SHAPES,
  type ShapeKind,
  scaleShape,
} from '../../core/bodies/index.ts';
import { completeFabric } from '../../core/cloth/index.ts';
import {
  ALL_BODY_GROUPS,
  type AuthoredDocument,
  type AuthoredRecord,
  type BaseRecord,
  BODY_DEFAULTS,
  BODY_FOLLOWS,
  BODY_SET_DEFAULTS,
  createDocument,
  type FabricRecord,
  GARMENT_DEFAULTS,
  GROUP_COUNT,
  groupBit,
  LIMITED_MEASURES,
  type Limits,
  LONGEST_LEVEL_SWITCH,
  MOST_MARGIN,
  type RecordId,
  raiseRecord,
  SCENE_DEFAULTS,
  SCENE_ID,
} from '../../core/document/index.ts';
import { weldPoints } from '../../core/mesh/index.ts';
import { CHANNEL_KINDS, type ChannelKind, limitValue } from '../../core/reach/index.ts';
import type { Character, FileScales, Section } from '../../core/rig/index.ts';
import { listNodesInOrder } from '../gltf/node-order.ts';
import type { RawGltf } from '../gltf/raw-gltf.ts';
import { readAccessor } from '../gltf/read-accessor.ts';
import { IntakeError } from '../intake-error.ts';
import {
  CLOTH_EXTENSION,
  type ClothExtension,
  DOCUMENT_VERSION_OF_SPEC,
  REST_ATTRIBUTE,
  type ShippedBody,
} from './cloth-extension.ts';
import { listLevelMeshes, readLevels } from './read-levels.ts';

export interface ReadShipment {
  authored: AuthoredDocument;
  /** Of the character, with what the file says of them beside the mesh: rest places, and which are sim meshes. */
  sections: Section[];
  /** Which of the file's sections these are: meshes of levels of detail are not. */
  kept: readonly boolean[];
}

/**
 * The authored document in a shipped file, or null when there is none. The character itself is left as it is.
 * @param scales - Of the file: bodies are in the units of their joints.
 * @throws {IntakeError} for cloth data of an unknown version, or that refers to what is not there.
 */
export function readShipment(
  character: Character,
  document: Document,
  json: RawGltf,
  scales: FileScales | null,
  file: string,
): ReadShipment | null {
  const raw = json.extensions?.[CLOTH_EXTENSION] as ClothExtension | undefined;
  if (!raw) return null;
  checkShape(raw, file);
  const raise = (record: object): AuthoredRecord =>
    raiseRecord(record as BaseRecord, DOCUMENT_VERSION_OF_SPEC[raw.specVersion]!);
  const ordered = listNodesInOrder(document);
  const orderOfFileNode = document
    .getRoot()
    .listNodes()
    .map((node) => ordered.indexOf(node));
  const authored = createDocument();
  const levelMeshes = listLevelMeshes(raw.garments);
  // Meshes of levels are made anew when they are needed.
  const isLevelMesh = ({ node, primitiveIndex }: Section): boolean =>
    levelMeshes.has(`${orderOfFileNode.indexOf(node)} ${primitiveIndex}`);
  const kept = character.sections.map((section) => !isLevelMesh(section));
  const sections = character.sections.filter((_, s) => kept[s]).map((section) => ({ ...section }));
  const add = authored.records;
  const findPlace = (place: { node: number; primitive: number }): number => {
    const node = orderOfFileNode[place.node];
    return sections.findIndex(
      (section) => section.node === node && section.primitiveIndex === place.primitive,
    );
  };
  const fabricIds = raw.fabrics.map((fabric, i) => {
    const id = `fabric-${i}` as RecordId;
    const { settings } = raise({ type: 'fabric', id, settings: fabric }) as FabricRecord;
    // Whoever wrote the file, the numbers are within their ranges.
    add.set(id, { type: 'fabric', id, name: String(fabric.name), settings: completeFabric(settings) });
    return id;
  });
  const bodyIds = new Map<RecordId, RecordId[]>();
  const setIds = raw.bodySets.map((set, s) => {
    const bodySetId = `set-${s}` as RecordId;
    // Before 1.8 nothing was said of it.
    const { follows = BODY_SET_DEFAULTS.follows } = set as Partial<typeof set>;
    if (!BODY_FOLLOWS.includes(follows)) {
      throw new IntakeError(
        'bad-reference',
        file,
        `${CLOTH_EXTENSION}, set "${set.name}"`,
        `Bodies do "${follows}" when the body shape is another, which this build does not know.`,
        'Ship the file again.',
      );
    }
    add.set(bodySetId, { type: 'bodySet', id: bodySetId, name: String(set.name), follows });
    const ids = set.bodies.map((_, i) => `body-${s}-${String(i).padStart(4, '0')}` as RecordId);
    bodyIds.set(bodySetId, ids);
    set.bodies.forEach((body, i) => {
      const id = ids[i]!;
      const { node, ...read } = readBody(
        body,
        character,
        orderOfFileNode,
        scales,
        `${CLOTH_EXTENSION}, set "${set.name}", body ${i}`,
        file,
      );
      const jointName = character.skeleton.names[node]!;
      add.set(id, { type: 'body', id, bodySetId, jointName, ...read, name: read.name || jointName });
    });
    // Before 1.9 there were none.
    const { meshes = [] } = set as Partial<typeof set>;
    meshes.forEach((mesh, i) => {
      const sectionIndex = findPlace(mesh);
      const { margin, group } = mesh;
      // null is what JSON makes of what is no number.
      const isThick = Number.isFinite(margin) && margin >= 0 && margin <= MOST_MARGIN;
      if (sectionIndex < 0 || !isThick || !isGroup(group)) {
        throw new IntakeError(
          'bad-reference',
          file,
          `${CLOTH_EXTENSION}, set "${set.name}", mesh ${i}`,
          'Its primitive is not in the file, or its numbers are incomplete.',
          'Ship the file again.',
        );
      }
      const section = sections[sectionIndex]!;
      section.isSimMesh = true;
      const id = `mesh-${s}-${String(i).padStart(4, '0')}` as RecordId;
      const name = String(mesh.name || section.name);
      const place = { sectionIndex, sectionName: section.name };
      add.set(id, { type: 'bodyMesh', id, bodySetId, name, stepId: null, ...place, margin, group });
    });
    return bodySetId;
  });
  raw.garments.forEach((garment, g) => {
    const where = `${CLOTH_EXTENSION}, garment "${garment.name}"`;
    const sectionIndex = findPlace(garment);
    const renders = Array.isArray(garment.renders) ? garment.renders.map(findPlace) : [];
    const [fabricId, bodySetId] = [fabricIds[garment.fabric], setIds[garment.bodySet]];
    if (sectionIndex < 0 || renders.includes(-1) || !fabricId || !bodySetId) {
      throw new IntakeError(
        'bad-reference',
        file,
        where,
        'Its section, fabric or body set is not in the file.',
        'Ship the file again.',
      );
    }
    const section = sections[sectionIndex]!;
    if (renders.length > 0) section.isSimMesh = true;
    const id = `garment-${g}` as RecordId;
    add.set(id, {
      type: 'garment',
      id,
      name: garment.name,
      order: garment.order,
      sectionIndex,
      sectionName: section.name,
      fabricId,
      bodySetId,
      bodyGroups: readGroups(garment.bodyGroups),
      clearOf: readClear(garment.clearOf, g),
      warpTurn: finiteOr(garment.warpTurn, GARMENT_DEFAULTS.warpTurn),
      blend: clamp(finiteOr(garment.blend, GARMENT_DEFAULTS.blend), 0, 1),
      lining: garment.lining === 'inside' ? 'inside' : 'none',
      trialLimits: readLimits(garment.limits),
      levels: readLevels(garment.levels, bodyIds.get(bodySetId)!, where, file),
      renders: renders.map((index) => ({
        sectionIndex: index,
        sectionName: sections[index]!.name,
      })),
    });
    const primitive = ordered[section.node]!.getMesh()!.listPrimitives()[section.primitiveIndex]!;
    const rest = primitive.getAttribute(REST_ATTRIBUTE);
    if (rest?.getType() === 'VEC3') section.restPositions = readAccessor(rest);
    const attributes = { ...garment.maps, maxDistance: garment.maxDistance };
    for (const kind of CHANNEL_KINDS)
      readMap(authored, section, primitive, { kind, attribute: attributes[kind], garment: g });
  });
  add.set(SCENE_ID, {
    ...SCENE_DEFAULTS,
    windSpeed: finiteOr(raw.scene?.windSpeed, SCENE_DEFAULTS.windSpeed),
    windDirection: finiteOr(raw.scene?.windDirection, SCENE_DEFAULTS.windDirection),
    windGusts: clamp(finiteOr(raw.scene?.windGusts, 0), 0, 1),
    windTurbulence: clamp(finiteOr(raw.scene?.windTurbulence, 0), 0, 1),
    levelSwitchSeconds: clamp(
      finiteOr(raw.scene?.levelSwitchSeconds, SCENE_DEFAULTS.levelSwitchSeconds),
      0,
      LONGEST_LEVEL_SWITCH,
    ),
  });
  return { authored, sections, kept };
}

/** Garments before a garment that it is clear of; before 1.12 of none. */
function readClear(clearOf: unknown, garment: number): RecordId[] {
  if (!Array.isArray(clearOf)) return [];
  const places = clearOf.filter((place) => Number.isInteger(place) && place >= 0 && place < garment);
  return [...new Set(places)].map((place) => `garment-${place}` as RecordId);
}

/** Limits that are numbers from 0 on, or none; before 1.10 there were no others. */
function readLimits(limits: Limits | undefined): Limits {
  const read: Limits = {};
  for (const key of LIMITED_MEASURES) {
    const limit = limits?.[key];
    if (limit === null || (typeof limit === 'number' && Number.isFinite(limit) && limit >= 0))
      read[key] = limit;
  }
  return read;
}

/** One map of a garment from its attribute; a channel that names none has none, but all is held without a max distance. */
function readMap(
  authored: AuthoredDocument,
  section: Section,
  primitive: Primitive,
  { kind, attribute, garment }: { kind: ChannelKind; attribute: string | undefined; garment: number },
): void {
  const accessor = attribute ? primitive.getAttribute(attribute) : null;
  if (!accessor && kind !== 'maxDistance') return;
  const { vertexOfPoint, pointCount } = weldPoints(section.positions);
  const perVertex = accessor ? readAccessor(accessor) : new Float32Array(section.positions.length / 3);
  const id = (kind === 'maxDistance' ? `channel-${garment}` : `channel-${garment}-${kind}`) as RecordId;
  authored.records.set(id, {
    type: 'channel',
    id,
    garmentId: `garment-${garment}` as RecordId,
    kind,
    name: 'shipped',
    isInUse: true,
    pointCount,
  });
  authored.arrays.set(
    id,
    Float32Array.from(vertexOfPoint, (vertex) => limitValue(kind, perVertex[vertex] ?? Number.NaN)),
  );
}

function checkShape(raw: ClothExtension, file: string): void {
  if (!Object.hasOwn(DOCUMENT_VERSION_OF_SPEC, raw.specVersion)) {
    throw new IntakeError(
      'wrong-version',
      file,
      CLOTH_EXTENSION,
      `Its version is ${JSON.stringify(raw.specVersion ?? null)}; this build reads ${Object.keys(DOCUMENT_VERSION_OF_SPEC).join(' and ')}.`,
      'Update Cobweb, or remove the extension from the file.',
    );
  }
  for (const list of ['garments', 'fabrics', 'bodySets'] as const) checkObjects(raw[list], list, file);
  for (const { name, bodies, meshes = [] } of raw.bodySets) {
    checkObjects(bodies, `bodies of set "${name}"`, file);
    checkObjects(meshes, `meshes of set "${name}"`, file);
  }
}

function checkObjects(list: unknown, what: string, file: string): void {
  const isFine =
    Array.isArray(list) && list.every((item: unknown) => item !== null && typeof item === 'object');
  if (!isFine)
    throw new IntakeError(
      'damaged-json',
      file,
      `${CLOTH_EXTENSION}, ${what}`,
      'It is not a list of objects.',
      'Ship the file again.',
    );
}

const shapeField = createShapeField();

function readBody(
  body: ShippedBody,
  character: Character,
  orderOfFileNode: number[],
  scales: FileScales | null,
  where: string,
  file: string,
): { node: number; shape: BodyShape; name: string; margin: number; group: number } {
  const carrier = orderOfFileNode[body.node];
  const node = carrier === undefined ? -1 : character.skeleton.parents[carrier]!;
  const { node: _node, name, margin = BODY_DEFAULTS.margin, group = BODY_DEFAULTS.group, ...raw } = body;
  const scale = scales?.nodes[node] ?? 1;
  const shape = hasFields(raw) ? scaleShape(raw, scale) : null;
  const isFine =
    shapeField.isValidSync(shape, { strict: true }) &&
    margin >= 0 &&
    Number.isFinite(margin) &&
    isGroup(group);
  if (node < 0 || !shape || !isFine) {
    throw new IntakeError(
      'bad-reference',
      file,
      where,
      'Its joint is not in the file, or its numbers are incomplete.',
      'Ship the file again.',
    );
  }
  return { node, shape, name: String(name ?? ''), margin: margin * scale, group };
}

/** Whether something has all numbers of a shape, finite ones, whatever their size. */
function hasFields(raw: object): raw is BodyShape {
  const { kind } = raw as { kind: ShapeKind };
  if (!SHAPE_KINDS.includes(kind)) return false;
  return Object.keys(SHAPES[kind].fields).every((field) => {
    const value = (raw as Record<string, unknown>)[field];
    return [value].flat().length > 0 && [value].flat().every(Number.isFinite);
  });
}

function isGroup(value: unknown): value is number {
  return Number.isInteger(value) && (value as number) >= 1 && (value as number) <= GROUP_COUNT;
}

/** Groups whose bodies a garment meets; a file from before there were any means all. */
function readGroups(groups: unknown): number {
  if (!Array.isArray(groups)) return ALL_BODY_GROUPS;
  return groups.filter(isGroup).reduce((mask, group) => mask | groupBit(group), 0);
}

function finiteOr(value: unknown, fallback: number): number {
  return typeof value === 'number' && Number.isFinite(value) ? value : fallback;
}

function clamp(value: number, least: number, most: number): number {
  return Math.min(most, Math.max(least, value));
}
