import { expect } from 'chai';
import { createStrip, type GltfBuilder } from '../test-gltf.ts';
import { openLooks } from './open-looks.ts';

const PNG = Uint8Array.of(0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 1, 2, 3);
const JPEG = Uint8Array.of(0xff, 0xd8, 0xff, 0xe0, 9);
const WEBP = Uint8Array.of(0x52, 0x49, 0x46, 0x46, 0, 0, 0, 0, 0x57, 0x45, 0x42, 0x50);

/** The strip with one material that shows images. */
function dress(change: (builder: GltfBuilder) => void): GltfBuilder {
  const builder = createStrip();
  builder.json.meshes![0]!.primitives![0]!.material = 0;
  change(builder);
  return builder;
}

function toText(builder: GltfBuilder): Uint8Array {
  return new TextEncoder().encode(JSON.stringify(builder.finish()));
}

describe('looks of a glTF file', () => {
  it('are its materials by section, with the images as they are packed', () => {
    const builder = dress((made) => {
      Object.assign(made.json, {
        images: [
          { bufferView: made.addView(PNG), mimeType: 'image/png', name: 'hair' },
          { bufferView: made.addView(JPEG), mimeType: 'image/jpeg' },
        ],
        samplers: [{ wrapS: 33071, wrapT: 33648 }],
        textures: [{ source: 0, sampler: 0 }, { source: 1 }],
        materials: [
          {
            name: 'Cards',
            alphaMode: 'MASK',
            alphaCutoff: 0.3,
            pbrMetallicRoughness: { baseColorTexture: { index: 0 } },
            normalTexture: { index: 1, scale: 0.5 },
          },
        ],
      });
    });
    const { looks, getImage } = openLooks([{ name: 'hair.glb', bytes: builder.toGlb() }]);
    expect(looks.sections).deep.equal([
      {
        meshIndex: 0,
        primitiveIndex: 0,
        materialName: 'Cards',
        baseColor: 0,
        normal: 1,
        normalScale: 0.5,
        alpha: 'mask',
        cutoff: 0.3,
        wrap: ['clamp', 'mirror'],
        color: null,
      },
    ]);
    expect(looks.images).deep.equal([
      { index: 0, name: 'hair', type: 'image/png', bytes: PNG.length },
      { index: 1, name: 'image 1', type: 'image/jpeg', bytes: JPEG.length },
    ]);
    expect([...getImage(0)!.bytes]).deep.equal([...PNG]);
    expect([...getImage(1)!.bytes]).deep.equal([...JPEG]);
    expect(getImage(2)).equal(null);
    expect(looks.notes).deep.equal([]);
  });

  it('come from files beside it, whatever the case of their names, and from within its text', () => {
    const builder = dress((made) => {
      Object.assign(made.json, {
        images: [
          { uri: 'textures/Wool%20red.PNG' },
          { uri: `data:image/webp;base64,${Buffer.from(WEBP).toString('base64')}` },
          { uri: 'lost.png' },
        ],
        textures: [{ source: 0 }, { extensions: { EXT_texture_webp: { source: 1 } } }],
        materials: [
          {
            alphaMode: 'BLEND',
            pbrMetallicRoughness: { baseColorTexture: { index: 1 } },
          },
        ],
      });
    });
    const { looks, getImage } = openLooks([
      { name: 'coat.gltf', bytes: toText(builder) },
      { name: 'wool red.png', bytes: PNG },
    ]);
    expect(looks.sections[0]).include({ baseColor: 1, alpha: 'blend' });
    expect(getImage(0)!.type).equal('image/png');
    expect(getImage(1)!.type).equal('image/webp');
    expect(looks.notes).deep.equal(['The image "lost.png" did not come along.']);
  });

  it('say what cannot be shown, and show the rest', () => {
    const builder = dress((made) => {
      Object.assign(made.json, {
        images: [
          { bufferView: made.addView(PNG), name: 'cloth' },
          { bufferView: made.addView(Uint8Array.of(1, 2, 3, 4)), name: 'packed' },
          { bufferView: 999, name: 'nowhere' },
        ],
        textures: [{ source: 0 }, { source: 1 }, { extensions: { KHR_texture_basisu: { source: 1 } } }],
        materials: [
          {
            name: 'Coat',
            pbrMetallicRoughness: {
              baseColorTexture: { index: 0, extensions: { KHR_texture_transform: { scale: [2, 2] } } },
            },
            normalTexture: { index: 0 },
          },
        ],
      });
      made.json.meshes![0]!.primitives!.push({ ...made.json.meshes![0]!.primitives![0]!, material: 1 });
      made.json.materials!.push({ name: 'Fur', pbrMetallicRoughness: { baseColorTexture: { index: 2 } } });
      made.json.meshes![0]!.primitives!.push({ ...made.json.meshes![0]!.primitives![0]!, material: 2 });
      made.json.materials!.push({ name: 'Odd', pbrMetallicRoughness: { baseColorTexture: { index: 1 } } });
    });
    const { looks, getImage } = openLooks([{ name: 'coat.glb', bytes: builder.toGlb() }]);
    expect(looks.sections.map(({ baseColor, normal }) => [baseColor, normal])).deep.equal([
      [0, null],
      [null, null],
      [null, null],
    ]);
    expect(getImage(1)).equal(null);
    expect(looks.notes).deep.equal([
      'The normals of the material "Coat" lie on other coordinates than its colours, and are not shown.',
      'An image of the material "Fur" is packed for graphics hardware (KTX2), and is not shown.',
      'The image "packed" is neither PNG, JPEG nor WebP, and is not shown.',
      'The image "nowhere" did not come along.',
    ]);
  });

  it('pass clips of other files over, and are nothing of no file', () => {
    const bytes = createStrip().toGlb();
    expect(openLooks([{ name: 'walk.glb', bytes, isClips: true }]).looks.sections).deep.equal([]);
    expect(openLooks([]).getImage(0)).equal(null);
  });
});

describe('looks of an OBJ file', () => {
  const file = (name: string, text: string): { name: string; bytes: Uint8Array } => ({
    name,
    bytes: new TextEncoder().encode(text),
  });

  it('are the materials that it names: colours in linear light, images behind their options', () => {
    const { looks, getImage } = openLooks([
      file('skirt.obj', 'mtllib skirt set.mtl\nmtllib lost.mtl\nv 0 0 0\n'),
      file(
        'Skirt Set.mtl',
        [
          '# colours',
          'Kd 1 1 1',
          'newmtl Wool twill',
          'Kd 0.5 0 1',
          'map_Kd -s 2 2 -clamp on maps\\wool red.png',
          'newmtl Lace',
          'map_Kd -o 0.1 0.2 0.3 lace.png',
          'map_d lace.png',
          'norm lace n.png',
          'newmtl Veil',
          'd 0.4',
          'Kd 2 0 0',
        ].join('\r\n'),
      ),
      { name: 'wool red.png', bytes: PNG },
      { name: 'lace.png', bytes: JPEG },
    ]);
    const [wool, lace, veil] = looks.sections;
    expect(wool).include({ meshIndex: -1, materialName: 'Wool twill', baseColor: 0, alpha: 'opaque' });
    expect(wool!.color![0]).closeTo(0.21404, 1e-5);
    expect(wool!.color!.slice(1)).deep.equal([0, 1]);
    expect(lace).include({ materialName: 'Lace', baseColor: 1, normal: null, alpha: 'mask' });
    expect(veil).include({ baseColor: null, alpha: 'blend', color: null });
    expect(getImage(1)!.type).equal('image/jpeg');
    expect(looks.notes).deep.equal([
      'The materials "lost.mtl" did not come along.',
      'The image "lace n.png" did not come along.',
    ]);
  });
});
