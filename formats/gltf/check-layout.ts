import { IntakeError } from '../intake-error.ts';
import type { RawGltf } from './raw-gltf.ts';

/** What a value has to be: a text, an object with parts of their own (all may be missing), or a list of such. */
type Layout = 'text' | 'anything' | { readonly [part: string]: Layout } | readonly [Layout];

const NAMED = { name: 'text' } as const;
const TEXTURE_INFO = { extensions: {} } as const;

/** Texts, objects and lists of a glTF. Numbers are looked at where they are used. */
const LAYOUT: Layout = {
  asset: { generator: 'text' },
  extensions: {},
  extensionsUsed: ['text'],
  extensionsRequired: ['text'],
  scenes: [{ ...NAMED, nodes: ['anything'], extensions: {} }],
  nodes: [{ ...NAMED, children: ['anything'], weights: ['anything'], extensions: {} }],
  meshes: [
    {
      ...NAMED,
      weights: ['anything'],
      primitives: [{ attributes: {}, targets: [{}], extensions: {} }],
      extensions: {},
    },
  ],
  skins: [{ ...NAMED, joints: ['anything'] }],
  animations: [
    {
      ...NAMED,
      channels: [{ target: { path: 'text', extensions: {} } }],
      samplers: [{ interpolation: 'text' }],
    },
  ],
  accessors: [{ ...NAMED, type: 'text', sparse: { indices: {}, values: {} }, extensions: {} }],
  bufferViews: [{ ...NAMED, extensions: {} }],
  buffers: [{ ...NAMED, uri: 'text', extensions: {} }],
  images: [{ ...NAMED, uri: 'text', mimeType: 'text', extensions: {} }],
  textures: [{ ...NAMED, extensions: {} }],
  samplers: [NAMED],
  cameras: [{ ...NAMED, type: 'text', perspective: {}, orthographic: {} }],
  materials: [
    {
      ...NAMED,
      alphaMode: 'text',
      pbrMetallicRoughness: {
        baseColorFactor: ['anything'],
        baseColorTexture: TEXTURE_INFO,
        metallicRoughnessTexture: TEXTURE_INFO,
      },
      normalTexture: TEXTURE_INFO,
      occlusionTexture: TEXTURE_INFO,
      emissiveTexture: TEXTURE_INFO,
      emissiveFactor: ['anything'],
      extensions: {},
    },
  ],
};

/**
 * Checks that lists are lists, objects objects and texts texts, so that whatever reads on may take it for granted.
 * @throws {IntakeError} for the first that is not, by where it stands.
 */
export function checkLayout(json: RawGltf, file: string): void {
  check(json, LAYOUT, '', file);
}

function check(value: unknown, layout: Layout, where: string, file: string): void {
  if (layout === 'anything') return;
  const wanted = layout === 'text' ? 'a text' : isList(layout) ? 'a list' : 'an object';
  if (wanted !== describe(value)) {
    throw new IntakeError(
      'damaged-json',
      file,
      where,
      `It is not ${wanted} but ${describe(value)}.`,
      'Export the file again, or repair it in the program it came from.',
    );
  }
  if (isList(layout)) {
    (value as unknown[]).forEach((item, i) => {
      check(item, layout[0], `${where} ${i}`, file);
    });
  } else if (layout !== 'text') {
    const parts = value as Record<string, unknown>;
    for (const [part, of] of Object.entries(layout)) {
      if (parts[part] !== undefined) check(parts[part], of, where ? `${where}, ${part}` : part, file);
    }
  }
}

function isList(layout: Layout): layout is readonly [Layout] {
  return Array.isArray(layout);
}

function describe(value: unknown): string {
  if (value === null) return 'nothing';
  if (Array.isArray(value)) return 'a list';
  if (typeof value === 'object') return 'an object';
  if (typeof value === 'string') return 'a text';
  return `the ${typeof value === 'boolean' ? 'word' : 'number'} ${value}`;
}
