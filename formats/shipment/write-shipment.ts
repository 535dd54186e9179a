import type { Accessor, Document, Node } from '@gltf-transform/core';
import { getShapeDefinition, growShape, listHullTriangles, scaleShape } from '../../core/bodies/index.ts';
import {
  type AuthoredDocument,
  areClear,
  BODY_SET_DEFAULTS,
  type BodyFollows,
  type FabricRecord,
  type GarmentRecord,
  GROUP_COUNT,
  getScene,
  groupBit,
  listBodies,
  listBodyMeshes,
  listGarments,
  type RecordId,
} from '../../core/document/index.ts';
import { listBands, makeLevelMeshes } from '../../core/levels/index.ts';
import { prepareCharacter } from '../../core/prepare/index.ts';
import { CHANNELS } from '../../core/reach/index.ts';
import { type Character, type FileScales, findSection } from '../../core/rig/index.ts';
import { getGltfIo } from '../gltf/gltf-io.ts';
import { listNodesInOrder } from '../gltf/node-order.ts';
import { ClothExtensionWriter, RigidBodiesWriter, ShapesWriter } from '../gltf/our-extensions.ts';
import type { RawPayload } from '../gltf/raw-extension.ts';
import type { RawGltf } from '../gltf/raw-gltf.ts';
import { writeCharacter } from '../gltf/write-character.ts';
import { writeRepaired } from '../gltf/write-repaired.ts';
import type { ReadCharacter } from '../read-character.ts';
import {
  CLOTH_EXTENSION,
  CLOTH_SPEC_VERSION,
  type ClothExtension,
  type ShippedBody,
  type ShippedCrowd,
  type ShippedMesh,
} from './cloth-extension.ts';
import { placeDocument } from './place-document.ts';
import { nameLevel, writeLevels } from './write-levels.ts';
import { writeMaps } from './write-maps.ts';
import { type WrittenPrimitive, writePrepared } from './write-prepared.ts';

/**
 * Writes one GLB: the source as it came (repairs applied, prepared sections as prepared), the maps in use of each garment as vertex attributes,
 * bodies as colliders on child nodes of their joints, and the cloth settings as `COBWEB_cloth`.
 *
 * `source` is used up: its document is added to. The nodes are left in the pose of the file.
 * @param revision - Of the character in the application, named in the file; a file made of another file has none.
 * @param crowd - What its levels were measured to cost, when they were.
 * @throws {Error} When the mesh of a level cannot be made, or the document names a section or joint that the character lacks.
 */
export async function writeShipment(
  source: ReadCharacter,
  authored: AuthoredDocument,
  revision?: number,
  crowd?: ShippedCrowd,
): Promise<Uint8Array> {
  const document = source.source?.document ?? writeCharacter(source.character);
  const nodes = listNodesInOrder(document);
  prepareDocument(document, source);
  if (source.source) writeRepaired(document, nodes, source.source.character);
  const prepared = prepareCharacter(source.character, authored);
  const scales = placeDocument(document, authored, source.source?.scales ?? null, {
    nodes: nodes.length,
    skins: source.character.skins.length,
  });
  const garments = listGarments(authored);
  const made = makeLevelMeshes(prepared.character, authored, listBands(garments));
  if (made.faults.length > 0)
    throw new Error(`A level of detail has no mesh. ${made.faults[0]} Change its edge length, or remove it.`);
  const { character } = made;
  const primitives = writePrepared(document, nodes, prepared.placed, character, scales);
  const maps = garments.map((garment) => writeMaps(document, character, primitives, authored, garment));
  const bodySets = writeBodies(
    document,
    { nodes, names: character.skeleton.names, scales },
    authored,
    garments,
  );
  const fabrics = listUsed(
    authored,
    garments.map((garment) => garment.fabricId),
    'fabric',
  ) as FabricRecord[];
  const levels = garments.map((garment) => {
    const set = bodySets.find(({ id }) => id === garment.bodySetId)!;
    const bodies = set.bodies.map(({ id }) => id);
    return writeLevels(document, authored, garment, { made, primitives, bodies });
  });
  const scene = getScene(authored);
  addExtension(document, ClothExtensionWriter, {
    root: (indexOf): ClothExtension => ({
      specVersion: CLOTH_SPEC_VERSION,
      ...(revision !== undefined && { revision }),
      garments: garments.map((garment, order) => {
        const refer = (index: number): PlaceInFile => findPlace(primitives[index]!, indexOf);
        return {
          name: garment.name,
          order,
          ...refer(findSection(character, garment)),
          maxDistance: CHANNELS.maxDistance.attribute,
          maps: maps[order]!,
          fabric: fabrics.findIndex((fabric) => fabric.id === garment.fabricId),
          bodySet: bodySets.findIndex((set) => set.id === garment.bodySetId),
          bodyGroups: listGroups(garment),
          clearOf: garments.slice(0, order).flatMap((other, g) => (areClear(garment, other) ? [g] : [])),
          warpTurn: garment.warpTurn,
          blend: garment.blend,
          lining: garment.lining,
          levels: levels[order]!.map((level) => nameLevel(level, refer)),
          limits: { ...authored.projectLimits, ...scene.trialLimits, ...garment.trialLimits },
          renders: garment.renders
            .map((render) => findSection(character, render))
            .filter((index) => index >= 0)
            .map(refer),
        };
      }),
      fabrics: fabrics.map(({ name, settings }) => ({ name, ...settings })),
      bodySets: bodySets.map(({ id, name, follows, bodies }) => ({
        name,
        follows,
        bodies: bodies.map(({ node, body }) => ({ node: indexOf(node), ...body }) as ShippedBody),
        meshes: listMeshes(authored, character, id).map(({ index, ...mesh }) => ({
          ...findPlace(primitives[index]!, indexOf),
          ...mesh,
        })),
      })),
      scene: {
        windSpeed: scene.windSpeed,
        windDirection: scene.windDirection,
        windGusts: scene.windGusts,
        windTurbulence: scene.windTurbulence,
        levelSwitchSeconds: scene.levelSwitchSeconds,
      },
      ...(crowd && { crowd }),
    }),
  });
  // What nothing refers to any more (replaced weights and clips) would still be written.
  for (const accessor of document.getRoot().listAccessors()) {
    if (accessor.listParents().every((parent) => parent === document.getRoot())) accessor.dispose();
  }
  return (await getGltfIo()).writeBinary(document);
}

/** One buffer, no packing, earlier colliders of ours gone. */
function prepareDocument(document: Document, source: ReadCharacter): void {
  const root = document.getRoot();
  const buffer = root.listBuffers()[0] ?? document.createBuffer();
  for (const accessor of root.listAccessors()) accessor.setBuffer(buffer);
  for (const other of root.listBuffers().slice(1)) other.dispose();
  for (const extension of root.listExtensionsUsed()) {
    if (/(meshopt|draco_mesh)_compression$/.test(extension.extensionName)) extension.dispose();
  }
  root.getAsset().generator = 'Cobweb';
  const earlier = source.source?.json.extensions?.[CLOTH_EXTENSION] as ClothExtension | undefined;
  const fileNodes = root.listNodes();
  const meshes = root.listMeshes();
  // Meshes of levels are made anew.
  for (const { mesh } of (earlier?.garments ?? []).flatMap(({ levels }) => levels ?? [])) {
    const node = mesh && fileNodes[mesh.node];
    if (!node) continue;
    disposeMesh(node.getMesh());
    node.dispose();
  }
  for (const { node } of (earlier?.bodySets ?? []).flatMap((set) => set.bodies)) {
    fileNodes[node]?.dispose();
    const { mesh = -1 } = findGeometry(source.source!.json, node);
    const hull = meshes[mesh];
    if (hull?.listParents().every((parent) => parent === root)) disposeMesh(hull);
  }
}

function disposeMesh(mesh: ReturnType<Node['getMesh']>): void {
  for (const primitive of mesh?.listPrimitives() ?? []) primitive.dispose();
  mesh?.dispose();
}

/** The geometry of a collider that we shipped earlier. */
function findGeometry(json: RawGltf, node: number): { mesh?: number } {
  const body = json.nodes?.[node]?.extensions?.[RigidBodiesWriter.EXTENSION_NAME] as
    | { collider?: { geometry?: { mesh?: number } } }
    | undefined;
  return body?.collider?.geometry ?? {};
}

interface PlaceInFile {
  node: number;
  primitive: number;
}

function findPlace({ node, place }: WrittenPrimitive, indexOf: (node: Node) => number): PlaceInFile {
  return { node: indexOf(node), primitive: place };
}

/** Meshes of a set, with the sections that they are; what lost its section cannot be met. */
function listMeshes(
  authored: AuthoredDocument,
  character: Character,
  bodySetId: RecordId,
): ({ index: number } & Omit<ShippedMesh, 'node' | 'primitive'>)[] {
  return listBodyMeshes(authored, bodySetId)
    .map((mesh) => ({
      index: findSection(character, mesh),
      name: mesh.name,
      margin: mesh.margin,
      group: mesh.group,
    }))
    .filter(({ index }) => index >= 0);
}

interface WrittenSet {
  id: RecordId;
  name: string;
  follows: BodyFollows;
  bodies: { id: RecordId; node: Node; body: Omit<ShippedBody, 'node'> }[];
}

/** Colliders as child nodes of their joints, with their shapes at the root. */
function writeBodies(
  document: Document,
  { nodes, names, scales }: { nodes: Node[]; names: string[]; scales: FileScales | null },
  authored: AuthoredDocument,
  garments: GarmentRecord[],
): WrittenSet[] {
  const shapes: object[] = [];
  const frictions: number[] = [];
  const colliders = new Map<Node, object>();
  const ids = [...new Set(garments.map((garment) => garment.bodySetId))];
  const sets = ids.map((id): WrittenSet => {
    const record = authored.records.get(id);
    const wearer = garments.find((garment) => garment.bodySetId === id)!;
    const fabric = authored.records.get(wearer.fabricId);
    frictions.push(fabric?.type === 'fabric' ? fabric.settings.friction : 0);
    const material = frictions.length - 1;
    const bodies = listBodies(authored, id, { names }).map((body) => {
      const index = names.indexOf(body.jointName);
      const joint = nodes[index];
      if (!joint)
        throw new Error(`Body "${body.name}" sits on joint "${body.jointName}", which the file lacks.`);
      // As everything below a joint, in the units of its space in the file.
      const scale = 1 / (scales?.nodes[index] ?? 1);
      const shape = scaleShape(body.shape, scale);
      const margin = body.margin * scale;
      // Grown in metres: the limits of sizes are metres.
      const grown = scaleShape(growShape(body.shape, body.margin), scale);
      const definition = getShapeDefinition(grown);
      const { translation, rotation } = definition.getFrame(grown);
      const node = document.createNode(`body ${body.name}`).setTranslation(translation).setRotation(rotation);
      joint.addChild(node);
      const geometry =
        grown.kind === 'hull'
          ? { mesh: writeHull(document, node.getName(), Float32Array.from(grown.points)), convexHull: true }
          : { shape: shapes.push(definition.toImplicit(grown)!) - 1 };
      colliders.set(node, {
        motion: { isKinematic: true },
        collider: { geometry, physicsMaterial: material },
      });
      return { id: body.id, node, body: { ...shape, name: body.name, margin, group: body.group } };
    });
    const { name, follows } = record?.type === 'bodySet' ? record : { name: 'bodies', ...BODY_SET_DEFAULTS };
    return { id, name, follows, bodies };
  });
  if (shapes.length > 0) addExtension(document, ShapesWriter, { root: () => ({ shapes }) });
  if (colliders.size > 0) {
    addExtension(document, RigidBodiesWriter, {
      root: () => ({
        physicsMaterials: frictions.map((friction) => ({
          staticFriction: friction,
          dynamicFriction: friction,
          restitution: 0,
        })),
      }),
      nodes: colliders,
    });
  }
  return sets;
}

/** A mesh that no node shows, for a hull to be made of. @returns Its number among the meshes. */
function writeHull(document: Document, name: string, points: Float32Array): number {
  const root = document.getRoot();
  const buffer = root.listBuffers()[0]!;
  const create = (type: 'VEC3' | 'SCALAR', values: Float32Array | Uint16Array): Accessor =>
    document.createAccessor().setBuffer(buffer).setType(type).setArray(values);
  const primitive = document
    .createPrimitive()
    .setAttribute('POSITION', create('VEC3', points))
    .setIndices(create('SCALAR', Uint16Array.from(listHullTriangles(points))));
  document.createMesh(name).addPrimitive(primitive);
  return root.listMeshes().length - 1;
}

/** Groups whose bodies a garment meets, from 1. */
function listGroups({ bodyGroups }: GarmentRecord): number[] {
  return Array.from({ length: GROUP_COUNT }, (_, i) => i + 1).filter((group) => bodyGroups & groupBit(group));
}

function listUsed(authored: AuthoredDocument, ids: RecordId[], type: string): unknown[] {
  return [...new Set(ids)].map((id) => authored.records.get(id)).filter((record) => record?.type === type);
}

function addExtension(document: Document, writer: typeof ClothExtensionWriter, payload: RawPayload): void {
  document.createExtension(writer).payload = payload;
}
