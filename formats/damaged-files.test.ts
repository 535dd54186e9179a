import { expect } from 'chai';
import type { RawGltf } from './gltf/raw-gltf.ts';
import { IntakeError, type IntakeErrorCode } from './intake-error.ts';
import { readCharacter } from './read-character.ts';
import { READ_LIMITS } from './source-file.ts';
import { createStrip, packGlb } from './test-gltf.ts';

/** Reads a file that must be refused. @returns The error, for its words. */
async function refuse(bytes: Uint8Array, name = 'strip.glb'): Promise<IntakeError> {
  try {
    await readCharacter([{ name, bytes }]);
  } catch (error) {
    expect(error).instanceOf(IntakeError);
    const refusal = error as IntakeError;
    // What, where and what to do.
    expect(refusal.file).equal(name);
    expect(refusal.found.length).above(5);
    expect(refusal.remedy.length).above(5);
    return refusal;
  }
  throw new Error('The damaged file was taken.');
}

/** The strip with its JSON changed. */
function change(edit: (json: Required<RawGltf>) => void): Uint8Array {
  const builder = createStrip();
  const json = builder.finish();
  edit(json as Required<RawGltf>);
  return packGlb(json, builder.bytes);
}

/** The strip with some of its floats changed: accessor, row number, value. */
function changeFloat(accessor: number, at: number, value: number): Uint8Array {
  const builder = createStrip();
  const json = builder.finish();
  const bytes = builder.bytes;
  const view = json.bufferViews![json.accessors![accessor]!.bufferView!]!;
  new DataView(bytes.buffer).setFloat32(view.byteOffset! + 4 * at, value, true);
  return packGlb(json, bytes);
}

const POSITION = 0;
const WEIGHTS = 2;
const INVERSE_BINDS = 4;

describe('damaged and hostile files', () => {
  it('the whole one is read', async () => {
    const { character } = await readCharacter([{ name: 'strip.glb', bytes: createStrip().toGlb() }]);
    expect(character.sections[0]!.triangles.length).equal(12);
  });

  const damages: [string, () => Uint8Array, IntakeErrorCode, RegExp][] = [
    ['an empty file', () => new Uint8Array(0), 'damaged-container', /does not begin/],
    [
      'a picture named .glb',
      () => Uint8Array.of(0x89, 0x50, 0x4e, 0x47, 1, 2, 3, 4),
      'damaged-container',
      /does not begin/,
    ],
    [
      'a file that ends in the header',
      () => createStrip().toGlb().slice(0, 15),
      'truncated',
      /ends after 15 bytes/,
    ],
    ['a file cut in half', () => createStrip().toGlb().slice(0, 900), 'truncated', /declared, 900 are there/],
    [
      'a chunk longer than the file',
      () => {
        const glb = createStrip().toGlb();
        new DataView(glb.buffer).setUint32(12, 4_000_000_000, true);
        return glb;
      },
      'truncated',
      /declares 4000000000 bytes/,
    ],
    [
      'another container version',
      () => {
        const glb = createStrip().toGlb();
        glb[4] = 1;
        return glb;
      },
      'wrong-version',
      /version 1/,
    ],
    [
      'JSON that ends early',
      () => {
        const glb = createStrip().toGlb();
        glb[30] = 0x7d;
        return glb;
      },
      'damaged-json',
      /cannot be parsed/,
    ],
    [
      'lists that are not lists',
      () =>
        change((json) => {
          json.nodes = 'none' as never;
        }),
      'damaged-json',
      /nodes: It is not a list/,
    ],
    [
      'glTF 1.0',
      () =>
        change((json) => {
          json.asset.version = '1.0';
        }),
      'wrong-version',
      /"1.0"/,
    ],
    [
      'a packing we do not read',
      () =>
        change((json) => {
          json.extensionsRequired = ['KHR_mesh_of_another_kind'];
        }),
      'unsupported-extension',
      /KHR_mesh_of/,
    ],
    [
      'a mesh that is not there',
      () =>
        change((json) => {
          json.nodes[3]!.mesh = 7;
        }),
      'bad-reference',
      /node 3 "strip": It refers to mesh 7/,
    ],
    [
      'an accessor number that is text',
      () =>
        change((json) => {
          json.meshes[0]!.primitives![0]!.indices = 'x' as never;
        }),
      'bad-reference',
      /accessor "x"/,
    ],
    [
      'nodes in a circle',
      () =>
        change((json) => {
          json.nodes[3]!.children = [0];
          json.scenes[0]!.nodes = [];
        }),
      'cyclic-nodes',
      /own ancestor/,
    ],
    [
      'a node with two parents',
      () =>
        change((json) => {
          json.nodes[0]!.children = [1, 2];
        }),
      'cyclic-nodes',
      /is a child of/,
    ],
    [
      'a buffer view beyond its buffer',
      () =>
        change((json) => {
          json.bufferViews[0]!.byteLength = 1e6;
        }),
      'out-of-bounds',
      /bufferView 0/,
    ],
    [
      'an accessor beyond its buffer view',
      () =>
        change((json) => {
          json.accessors[0]!.count = 7000;
        }),
      'out-of-bounds',
      /accessor 0/,
    ],
    [
      'a count of gigabytes',
      () =>
        change((json) => {
          json.accessors[0] = { componentType: 5126, type: 'VEC3', count: 2e9 };
        }),
      'too-large',
      /more than 200,000,000/,
    ],
    [
      'a negative count',
      () =>
        change((json) => {
          json.accessors[0]!.count = -3;
        }),
      'wrong-count',
      /count is -3/,
    ],
    [
      'a component type that does not exist',
      () =>
        change((json) => {
          json.accessors[0]!.componentType = 9;
        }),
      'wrong-type',
      /no values of componentType 9 and type "VEC3"/,
    ],
    [
      'positions of two numbers',
      () =>
        change((json) => {
          json.accessors[0]!.type = 'VEC2';
        }),
      'wrong-type',
      /POSITION: It is VEC2/,
    ],
    [
      'fewer weights than vertices',
      () =>
        change((json) => {
          json.accessors[WEIGHTS]!.count = 4;
        }),
      'wrong-count',
      /4 rows for 6 vertices/,
    ],
    [
      'joint numbers that are floats',
      () =>
        change((json) => {
          json.accessors[1] = { ...json.accessors[WEIGHTS]! };
        }),
      'wrong-type',
      /Joint numbers/,
    ],
    [
      'more joints than bind matrices',
      () =>
        change((json) => {
          json.skins[0]!.joints = [0, 1, 2];
        }),
      'wrong-count',
      /3 joints, but 2/,
    ],
    [
      'a skin without joints',
      () =>
        change((json) => {
          json.skins[0]!.joints = [];
        }),
      'wrong-count',
      /no joints/,
    ],
    [
      'a node transform that is not numbers',
      () =>
        change((json) => {
          json.nodes[1]!.translation = [0, null as never, 0];
        }),
      'not-a-number',
      /node 1 "lower", translation/,
    ],
    [
      'a position that is not a number',
      () => changeFloat(POSITION, 4, Number.NaN),
      'not-a-number',
      /vertex 1: Its position/,
    ],
    [
      'a bind matrix that is not numbers',
      () => changeFloat(INVERSE_BINDS, 20, Number.POSITIVE_INFINITY),
      'not-a-number',
      /joint "upper"/,
    ],
    [
      'a triangle index beyond the vertices',
      () =>
        change((json) => {
          // Vertex weights read as indices: large numbers.
          json.meshes[0]!.primitives![0]!.indices = json.accessors.length;
          json.accessors.push({
            bufferView: json.accessors[WEIGHTS]!.bufferView!,
            componentType: 5123,
            count: 12,
            type: 'SCALAR',
          });
        }),
      'index-out-of-range',
      /there are 6 vertices/,
    ],
    [
      'a joint number beyond the skin',
      () =>
        change((json) => {
          json.skins[0]!.joints = [1];
          json.accessors[INVERSE_BINDS]!.count = 1;
        }),
      'index-out-of-range',
      /weighted to joint 1; the skin has 1/,
    ],
    [
      'no mesh at all',
      () =>
        change((json) => {
          delete (json as RawGltf).meshes;
          delete json.nodes[3]!.mesh;
        }),
      'no-geometry',
      /no mesh/,
    ],
    [
      'a mesh that no node shows',
      () =>
        change((json) => {
          delete json.nodes[3]!.mesh;
        }),
      'no-geometry',
      /stands on a node/,
    ],
    [
      'a sparse accessor that replaces more than there is',
      () =>
        change((json) => {
          json.accessors[0]!.sparse = {
            count: 99,
            indices: { bufferView: 0, componentType: 5123 },
            values: { bufferView: 0 },
          };
        }),
      'wrong-count',
      /99 of 6/,
    ],
    [
      'buffers that did not come along',
      () =>
        change((json) => {
          json.buffers[0]!.uri = '../../etc/passwd';
        }),
      'missing-file',
      /needs "passwd"/,
    ],
    [
      'embedded data that is not base64',
      () =>
        change((json) => {
          json.buffers[0]!.uri = 'data:application/octet-stream;base64,%%%';
        }),
      'damaged-container',
      /base64/,
    ],
    [
      'a name that is a number',
      () => change((json) => Object.assign(json.nodes[2]!, { name: 7 })),
      'damaged-json',
      /nodes 2, name: It is not a text but the number 7/,
    ],
    [
      'channels that are no list',
      () => change((json) => Object.assign(json.animations[0]!, { channels: 'many' })),
      'damaged-json',
      /animations 0, channels: It is not a list but a text/,
    ],
    [
      'a channel without a target',
      () => change((json) => Object.assign(json.animations[0]!.channels![0]!, { target: undefined })),
      'damaged-json',
      /channel 0: It has no target/,
    ],
    [
      'an image placed by words',
      () =>
        change((json) => {
          const placed = { index: 0, extensions: { KHR_texture_transform: { scale: 'big' as never } } };
          json.textures = [{}];
          json.materials = [{ name: 'Oak', normalTexture: placed }];
        }),
      'damaged-json',
      /material 0 "Oak": The placement of its image/,
    ],
    [
      'a texture of an image that is not there',
      () =>
        change((json) => {
          json.textures = [{ source: 4 }];
        }),
      'bad-reference',
      /texture 0: It refers to image 4; the file has 0/,
    ],
    [
      'a camera of no kind',
      () =>
        change((json) => {
          json.cameras = [{ type: 'fisheye' }];
        }),
      'damaged-json',
      /camera 0: It is neither/,
    ],
  ];
  for (const [name, build, code, words] of damages) {
    it(`refuses ${name}`, async () => {
      const start = performance.now();
      const error = await refuse(build());
      expect(error.code).equal(code);
      expect(error.message).match(words);
      expect(performance.now() - start).below(1000);
    });
  }

  it('refuses every truncation of a whole file with an intake error', async () => {
    const glb = createStrip().toGlb();
    for (let length = 0; length < glb.length; length += 37) await refuse(glb.slice(0, length));
  });

  it('refuses what is too large, of no kind, or several at once', async () => {
    const strip = { name: 'a.glb', bytes: createStrip().toGlb() };
    const codeOf = (files: (typeof strip)[], limits = READ_LIMITS): Promise<string> =>
      readCharacter(files, limits).then(
        () => 'read',
        (error: IntakeError) => error.code,
      );
    expect(await codeOf([])).equal('no-file');
    expect(await codeOf([strip, { ...strip, name: 'b.glb' }])).equal('unknown-format');
    expect(await codeOf([{ name: 'a.txt', bytes: Uint8Array.of(1, 2, 3) }])).equal('unknown-format');
    expect(await codeOf([strip], { ...READ_LIMITS, bytes: 100 })).equal('too-large');
    expect(await codeOf([strip], { ...READ_LIMITS, vertices: 5 })).equal('too-large');
  });

  it('refuses broken OBJ files by line', async () => {
    const read = (text: string): Promise<IntakeError> => refuse(new TextEncoder().encode(text), 'cloak.obj');
    expect((await read('v 0 0 0\nv 1 0\n')).message).equal(
      'cloak.obj, line 2: "1 0" is not 3 numbers. Repair that line or export again.',
    );
    expect((await read('v 0 0 0\nf 1 2 3\n')).code).equal('index-out-of-range');
    expect((await read('v 0 0 0\nv 1 0 0\nf 1 2\n')).message).contain('line 3: A face of 2 corners');
    expect((await read('v 0 0 0\n')).message).contain('It has vertices, but no face between them.');
    expect((await read('a page of something else')).message).contain('No line of it is a vertex or a face');
  });

  it('reads text in any Unicode form, and lines that end in any way', async () => {
    const text = 'v 0 0 0\rv 1 0 0\r\nv 0 1 \\\r\n0\nf 1 2 3\n';
    const wide = Uint8Array.from([...text].flatMap((letter) => [letter.charCodeAt(0), 0]));
    const swapped = wide.map((_, i) => wide[i ^ 1]!);
    const forms = [
      new TextEncoder().encode(text),
      Uint8Array.of(0xef, 0xbb, 0xbf, ...new TextEncoder().encode(text)),
      wide,
      Uint8Array.of(0xff, 0xfe, ...wide),
      swapped,
      Uint8Array.of(0xfe, 0xff, ...swapped),
    ];
    for (const bytes of forms) {
      const { character } = await readCharacter([{ name: 'cloak.obj', bytes }]);
      expect([...character.sections[0]!.positions]).deep.equal([0, 0, 0, 1, 0, 0, 0, 1, 0]);
    }
  });

  it('reads a file whose texture has no image, and says so', async () => {
    const bytes = change((json) => {
      json.textures = [{}];
      json.materials = [
        { normalTexture: { index: 0 }, pbrMetallicRoughness: { baseColorTexture: { index: 0 } } },
      ];
    });
    const { report } = await readCharacter([{ name: 'strip.glb', bytes }]);
    expect(report.odd.find(({ code }) => code === 'no-image')?.where).equal('texture 0');
  });
});
