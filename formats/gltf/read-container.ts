import { decodeText } from '../decode-text.ts';
import { IntakeError } from '../intake-error.ts';
import type { SourceFile } from '../source-file.ts';
import type { RawGltf } from './raw-gltf.ts';

const GLB_MAGIC = 0x46546c67;
const JSON_CHUNK = 0x4e4f534a;
const BIN_CHUNK = 0x004e4942;

export interface Container {
  json: RawGltf;
  /** The binary chunk of a .glb, or null. */
  binary: Uint8Array | null;
}

/** Splits a .glb or .gltf into its JSON and binary chunk. @throws {IntakeError} when damaged. */
export function readContainer(file: SourceFile): Container {
  const { bytes, name } = file;
  const isBinary =
    bytes.length >= 4 && new DataView(bytes.buffer, bytes.byteOffset).getUint32(0, true) === GLB_MAGIC;
  if (!isBinary) {
    if (name.toLowerCase().endsWith('.glb')) {
      throw new IntakeError(
        'damaged-container',
        name,
        'header',
        `The file does not begin with "glTF" (${bytes.length} bytes).`,
        'Export it again as a binary glTF 2.0 file.',
      );
    }
    return { json: parseJson(bytes, name), binary: null };
  }
  return readBinary(file);
}

function readBinary({ bytes, name }: SourceFile): Container {
  const fail = (
    where: string,
    found: string,
    code: 'truncated' | 'damaged-container' = 'truncated',
  ): never => {
    throw new IntakeError(code, name, where, found, 'Copy or export the file again.');
  };
  if (bytes.length < 20) fail('header', `The file ends after ${bytes.length} bytes.`);
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const version = view.getUint32(4, true);
  if (version !== 2) {
    throw new IntakeError(
      'wrong-version',
      name,
      'header',
      `The container is version ${version}.`,
      'Export as glTF 2.0.',
    );
  }
  const declared = view.getUint32(8, true);
  if (declared > bytes.length) fail('header', `${declared} bytes are declared, ${bytes.length} are there.`);
  let json: RawGltf | null = null;
  let binary: Uint8Array | null = null;
  let at = 12;
  for (let chunk = 0; at + 8 <= declared; chunk++) {
    const length = view.getUint32(at, true);
    const kind = view.getUint32(at + 4, true);
    if (at + 8 + length > declared) {
      fail(`chunk ${chunk}`, `It declares ${length} bytes, ${declared - at - 8} are left.`);
    }
    const content = bytes.subarray(at + 8, at + 8 + length);
    if (chunk === 0) {
      if (kind !== JSON_CHUNK) fail('chunk 0', 'The first chunk is not JSON.', 'damaged-container');
      json = parseJson(content, name);
    } else if (kind === BIN_CHUNK && !binary) {
      binary = content;
    }
    at += 8 + ((length + 3) & ~3);
  }
  if (!json) fail('chunk 0', 'There is no JSON chunk.', 'damaged-container');
  return { json: json!, binary };
}

function parseJson(bytes: Uint8Array, name: string): RawGltf {
  let found: string;
  try {
    const json: unknown = JSON.parse(decodeText(bytes, true));
    if (json !== null && typeof json === 'object' && !Array.isArray(json)) return json as RawGltf;
    found = 'It is not an object.';
  } catch (error) {
    found = `It cannot be parsed (${error instanceof Error ? error.message : String(error)}).`;
  }
  throw new IntakeError('damaged-json', name, 'JSON', found, 'Export the file again.');
}
