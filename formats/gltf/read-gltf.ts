import type { Document, JSONDocument, Node } from '@gltf-transform/core';
import { Logger } from '@gltf-transform/core';
import { invertAffine } from '../../core/math/index.ts';
import {
  bakeScales,
  type Character,
  type FileScales,
  type Skeleton,
  type Skin,
} from '../../core/rig/index.ts';
import { decodeDataUri, findCompanion, tellFileName } from '../companion.ts';
import { IntakeError } from '../intake-error.ts';
import type { ReadLimits, SourceFile } from '../source-file.ts';
import { checkRawGltf } from './check-raw.ts';
import { DRACO_EXTENSION, enableDraco, getGltfIo } from './gltf-io.ts';
import { listNodesInOrder } from './node-order.ts';
import type { RawGltf, RawTextureInfo } from './raw-gltf.ts';
import { readAccessor } from './read-accessor.ts';
import { readClips } from './read-clips.ts';
import { readContainer } from './read-container.ts';
import { readSections } from './read-sections.ts';
import { makeNamesUnique, RepairLog } from './repair-log.ts';

export interface ReadGltf {
  /** In metres in every space. */
  character: Character;
  /** The same as the file has it, in its own units. */
  asInFile: Character;
  /** How many metres a unit of the file is, in each space; null where all are one. */
  scales: FileScales | null;
  /** The file as it stands, to add to when shipping. */
  document: Document;
  json: RawGltf;
  isBinary: boolean;
  log: RepairLog;
}

/**
 * Reads a glTF 2.0 character: bytes → raw JSON, checked → document → `Character`.
 *
 * @param main - The .glb or .gltf. @param others - Files that a .gltf refers to, matched by name.
 * @throws {IntakeError} for anything that keeps the character from being used.
 */
export async function readGltf(
  main: SourceFile,
  others: readonly SourceFile[],
  limits: ReadLimits,
  needsMeshes = true,
): Promise<ReadGltf> {
  const { json, binary } = readContainer(main);
  const log = new RepairLog();
  const buffers = gatherBuffers(json, binary, main.name, others);
  checkRawGltf(
    json,
    main.name,
    buffers.map((bytes) => bytes.length),
    limits,
  );
  if (needsMeshes && !json.meshes?.length) {
    throw new IntakeError(
      'no-geometry',
      main.name,
      '',
      'There is no mesh in the file.',
      'Export the meshes too.',
    );
  }
  const document = await readDocument(json, buffers, main.name, others, log);
  noteDecoded(json, log);
  const nodes = listNodesInOrder(document);
  const nodeNames = makeNamesUnique(
    nodes.map((node) => node.getName()),
    'node',
    (_index, before, after) =>
      log.repair(
        'node-name',
        `node "${after}"`,
        before ? `A second node named "${before}" is called "${after}".` : 'It had no name.',
      ),
  );
  const skins = readSkins(document, nodes, main.name, log);
  const sections = readSections({
    document,
    nodes,
    nodeNames,
    skins,
    file: main.name,
    limits,
    log,
    keepsSeams: main.keepsSeams ?? false,
  });
  if (needsMeshes && !sections.some((section) => section.triangles.length > 0)) {
    throw new IntakeError(
      'no-geometry',
      main.name,
      '',
      'No mesh of the file has triangles or stands on a node.',
      'Export the meshes as triangles.',
    );
  }
  const asInFile: Character = {
    name: main.name.replace(/\.[^.]+$/, ''),
    skeleton: readSkeleton(nodes, nodeNames, json, log),
    skins,
    sections,
    clips: readClips(document, nodes, log),
  };
  const { character, scales } = bakeScales(asInFile);
  return { character, asInFile, scales, document, json, isBinary: binary !== null, log };
}

/** The bytes of each buffer: the binary chunk, a data URI, or a file that came along. */
function gatherBuffers(
  json: RawGltf,
  binary: Uint8Array | null,
  file: string,
  others: readonly SourceFile[],
): Uint8Array[] {
  return (Array.isArray(json.buffers) ? json.buffers : []).map((buffer, index) => {
    const uri: unknown = buffer?.uri;
    if (uri === undefined) {
      const isFallback = Object.keys(buffer?.extensions ?? {}).some((name) =>
        name.endsWith('meshopt_compression'),
      );
      if (isFallback) return new Uint8Array(0);
      if (binary && index === 0) return binary;
      throw new IntakeError(
        'missing-file',
        file,
        `buffer ${index}`,
        'It has no bytes in the file.',
        'Export the file again.',
      );
    }
    return resolveUri(String(uri), `buffer ${index}`, file, others);
  });
}

function resolveUri(uri: string, where: string, file: string, others: readonly SourceFile[]): Uint8Array {
  let data: Uint8Array | undefined;
  try {
    data = decodeDataUri(uri);
  } catch {
    throw new IntakeError(
      'damaged-container',
      file,
      where,
      'Its embedded data is not valid base64.',
      'Export the file again.',
    );
  }
  const found = data ?? findCompanion(others, uri)?.bytes;
  if (!found) {
    throw new IntakeError(
      'missing-file',
      file,
      where,
      `It needs "${tellFileName(uri)}", which did not come along.`,
      'Drop the .gltf together with all its files.',
    );
  }
  return found;
}

async function readDocument(
  json: RawGltf,
  buffers: Uint8Array[],
  file: string,
  others: readonly SourceFile[],
  log: RepairLog,
): Promise<Document> {
  const io = await getGltfIo();
  if (json.extensionsUsed?.includes(DRACO_EXTENSION)) await enableDraco();
  // Our buffers get names of our own, so that no address in the file is ever followed.
  const copy = structuredClone(json);
  for (const texture of dropEmptyTextures(copy))
    log.note('no-image', `texture ${texture}`, 'It has no image and is left out.');
  const resources: JSONDocument['resources'] = {};
  copy.buffers?.forEach((buffer, index) => {
    buffer.uri = `buffer-${index}.bin`;
    resources[buffer.uri] = buffers[index]! as Uint8Array<ArrayBuffer>;
  });
  copy.images?.forEach((image, index) => {
    if (image.uri === undefined) return;
    const bytes = image.uri.startsWith('data:')
      ? resolveUri(image.uri, `image ${index}`, file, others)
      : findCompanion(others, image.uri)?.bytes;
    image.uri = `image-${index}.png`;
    resources[image.uri] = (bytes ?? new Uint8Array(0)) as Uint8Array<ArrayBuffer>;
  });
  try {
    const document = await io.readJSON({ json: copy as unknown as JSONDocument['json'], resources });
    document.setLogger(new Logger(Logger.Verbosity.SILENT));
    return document;
  } catch (error) {
    throw new IntakeError(
      'unreadable',
      file,
      '',
      `It could not be unpacked (${error instanceof Error ? error.message : String(error)}).`,
      isPacked(json)
        ? 'Export the file again without compression.'
        : 'Export the file again, or repair it in the program it came from.',
    );
  }
}

/** Lets go of textures without an image, which nothing can show. @returns Which they were. */
function dropEmptyTextures({ textures = [], materials = [] }: RawGltf): number[] {
  const empty = [...textures.keys()].filter((i) => {
    const { source, extensions } = textures[i]!;
    return source === undefined && !extensions;
  });
  const drop = (holder: object | undefined): void => {
    for (const [part, info] of Object.entries(holder ?? {}))
      if (/Texture$/.test(part) && empty.includes((info as RawTextureInfo).index!))
        delete (holder as Record<string, unknown>)[part];
  };
  for (const material of empty.length > 0 ? materials : []) {
    drop(material);
    drop(material.pbrMetallicRoughness);
  }
  return empty;
}

function isPacked({ extensionsUsed }: RawGltf): boolean {
  return extensionsUsed?.some((name) => name.endsWith('_compression')) ?? false;
}

function noteDecoded(json: RawGltf, log: RepairLog): void {
  const used = json.extensionsUsed ?? [];
  if (used.includes('KHR_mesh_quantization')) log.decoded.add('quantised vertices');
  if (used.some((name) => name.endsWith('meshopt_compression'))) log.decoded.add('meshopt packing');
  if (used.includes(DRACO_EXTENSION)) log.decoded.add('Draco packing');
  if (json.accessors?.some((accessor) => accessor.sparse)) log.decoded.add('sparse data');
}

function readSkins(document: Document, nodes: Node[], file: string, log: RepairLog): Skin[] {
  const nodeIndex = new Map(nodes.map((node, index) => [node, index]));
  return document
    .getRoot()
    .listSkins()
    .map((skin, index) => {
      const joints = skin.listJoints();
      const where = `skin ${index} "${skin.getName()}"`;
      const accessor = skin.getInverseBindMatrices();
      const inverseBinds = new Float32Array(16 * joints.length);
      if (accessor) inverseBinds.set(readAccessor(accessor).subarray(0, inverseBinds.length));
      else
        for (let j = 0; j < joints.length; j++) for (let k = 0; k < 16; k += 5) inverseBinds[16 * j + k] = 1;
      const bad = inverseBinds.findIndex((value) => !Number.isFinite(value));
      if (bad >= 0) {
        const joint = joints[Math.floor(bad / 16)]!.getName();
        throw new IntakeError(
          'not-a-number',
          file,
          `${where}, joint "${joint}"`,
          'Its inverse bind matrix is not a number.',
          'Bind the skin again and export.',
        );
      }
      const scratch = new Float64Array(16);
      joints.forEach((joint, j) => {
        if (!invertAffine(scratch, 0, inverseBinds, 16 * j)) {
          log.note(
            'flat-joint',
            `${where}, joint "${joint.getName()}"`,
            'Its bind matrix is flat; its bind pose follows its parent.',
          );
        }
      });
      return {
        name: skin.getName(),
        joints: Uint32Array.from(joints, (joint) => nodeIndex.get(joint)!),
        inverseBinds,
      };
    });
}

function readSkeleton(nodes: Node[], names: string[], json: RawGltf, log: RepairLog): Skeleton {
  const nodeIndex = new Map(nodes.map((node, index) => [node, index]));
  const count = nodes.length;
  const skeleton: Skeleton = {
    names,
    parents: new Int32Array(count),
    translations: new Float64Array(3 * count),
    rotations: new Float64Array(4 * count),
    scales: new Float64Array(3 * count),
  };
  nodes.forEach((node, i) => {
    const parent = node.getParentNode();
    skeleton.parents[i] = parent ? nodeIndex.get(parent)! : -1;
    skeleton.translations.set(node.getTranslation(), 3 * i);
    skeleton.scales.set(node.getScale(), 3 * i);
    const rotation = node.getRotation();
    const length = Math.hypot(...rotation);
    if (Math.abs(length - 1) > 1e-3)
      log.repair('rotation', `node "${names[i]}"`, 'Its rotation was not of unit length.');
    skeleton.rotations.set(length > 0 ? rotation.map((value) => value / length) : [0, 0, 0, 1], 4 * i);
  });
  if (json.nodes?.some((node) => node.matrix && isSheared(node.matrix))) {
    log.note('sheared', 'nodes', 'Some node matrices are sheared; only their move, turn and scale are used.');
  }
  return skeleton;
}

function isSheared(m: number[]): boolean {
  const columns = [m.slice(0, 3), m.slice(4, 7), m.slice(8, 11)];
  const cosine = (a: number[], b: number[]): number =>
    (a[0]! * b[0]! + a[1]! * b[1]! + a[2]! * b[2]!) / (Math.hypot(...a) * Math.hypot(...b) || 1);
  return [
    [0, 1],
    [0, 2],
    [1, 2],
  ].some(([p, q]) => Math.abs(cosine(columns[p!]!, columns[q!]!)) > 1e-3);
}
