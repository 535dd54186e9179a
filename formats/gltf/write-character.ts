import { type Accessor, type Buffer, Document, type Material, type Node } from '@gltf-transform/core';
import type { Character, Section, Track } from '../../core/rig/index.ts';

const PATH_WIDTH = { translation: 'VEC3', rotation: 'VEC4', scale: 'VEC3', weights: 'SCALAR' } as const;

/**
 * A character as a new glTF document: nodes, skins, sections as primitives of their meshes, morphs, clips and plain
 * materials. Node order is kept, so that reading it back gives the same skeleton.
 *
 * @param pictures - PNG of base colours by name of the material, for sections with UVs.
 */
export function writeCharacter(
  character: Character,
  pictures: ReadonlyMap<string, Uint8Array> = new Map(),
): Document {
  const document = new Document();
  const buffer = document.createBuffer();
  document.getRoot().getAsset().generator = 'Cobweb';
  const scene = document.createScene(character.name);
  document.getRoot().setDefaultScene(scene);
  const nodes = writeNodes(document, character);
  character.skeleton.parents.forEach((parent, i) => {
    if (parent < 0) scene.addChild(nodes[i]!);
    else nodes[parent]!.addChild(nodes[i]!);
  });
  writeMeshes(document, buffer, character, nodes, pictures);
  writeClips(document, buffer, character, nodes);
  return document;
}

function writeNodes(document: Document, { skeleton }: Character): Node[] {
  return skeleton.names.map((name, i) => {
    const row = (array: Float64Array, width: number): number[] => [
      ...array.subarray(width * i, width * (i + 1)),
    ];
    return document
      .createNode(name)
      .setTranslation(row(skeleton.translations, 3) as [number, number, number])
      .setRotation(row(skeleton.rotations, 4) as [number, number, number, number])
      .setScale(row(skeleton.scales, 3) as [number, number, number]);
  });
}

function writeMeshes(
  document: Document,
  buffer: Buffer,
  character: Character,
  nodes: Node[],
  pictures: ReadonlyMap<string, Uint8Array>,
): void {
  const skins = character.skins.map((skin, index) => {
    if (!character.sections.some((section) => section.skin === index && !section.isRigid)) return null;
    const made = document
      .createSkin(skin.name)
      .setInverseBindMatrices(createAccessor(document, buffer, 'MAT4', skin.inverseBinds));
    for (const joint of skin.joints) made.addJoint(nodes[joint]!);
    return made;
  });
  const materials = new Map<string, Material>();
  const meshOfNode = new Map<number, number>();
  character.sections.forEach((section, index) => {
    const first = meshOfNode.get(section.node);
    const carrier = nodes[section.node]!;
    if (first === undefined) {
      meshOfNode.set(section.node, index);
      carrier.setMesh(document.createMesh(section.meshName));
      carrier.getMesh()!.setWeights([...section.morphWeights]);
      const skin = skins[section.skin];
      if (skin) carrier.setSkin(skin);
    }
    const key = JSON.stringify([section.materialName, section.baseColor, section.isTwoSided]);
    let material = materials.get(key);
    if (!material) {
      material = document
        .createMaterial(section.materialName)
        .setBaseColorFactor(section.baseColor)
        .setDoubleSided(section.isTwoSided)
        .setMetallicFactor(0)
        .setRoughnessFactor(0.9);
      const picture = section.uvs && pictures.get(section.materialName);
      if (picture) {
        const texture = document.createTexture(section.materialName).setMimeType('image/png');
        material.setBaseColorTexture(texture.setImage(picture as Uint8Array<ArrayBuffer>));
      }
      materials.set(key, material);
    }
    carrier.getMesh()!.addPrimitive(writePrimitive(document, buffer, section).setMaterial(material));
  });
}

/** Geometry, weights and morphs of a section, without a material. */
export function writePrimitive(
  document: Document,
  buffer: Buffer,
  section: Section,
): ReturnType<Document['createPrimitive']> {
  const primitive = document
    .createPrimitive()
    .setIndices(createAccessor(document, buffer, 'SCALAR', section.triangles))
    .setAttribute('POSITION', createAccessor(document, buffer, 'VEC3', section.positions))
    .setAttribute('NORMAL', createAccessor(document, buffer, 'VEC3', section.normals));
  if (section.uvs)
    primitive.setAttribute('TEXCOORD_0', createAccessor(document, buffer, 'VEC2', section.uvs));
  if (section.colors)
    primitive.setAttribute('COLOR_0', createAccessor(document, buffer, 'VEC3', section.colors));
  if (!section.isRigid) writeWeights(document, buffer, primitive, section);
  for (const morph of section.morphs) {
    const target = document
      .createPrimitiveTarget(morph.name)
      .setAttribute('POSITION', createAccessor(document, buffer, 'VEC3', morph.positions));
    if (morph.normals) target.setAttribute('NORMAL', createAccessor(document, buffer, 'VEC3', morph.normals));
    primitive.addTarget(target);
  }
  return primitive;
}

/** Places or normals of a section in place of those that a primitive has. @param array - [vertices, 3] */
export function writeVectors(
  document: Document,
  buffer: Buffer,
  primitive: ReturnType<Document['createPrimitive']>,
  attribute: 'POSITION' | 'NORMAL',
  array: Float32Array,
): void {
  primitive.setAttribute(attribute, createAccessor(document, buffer, 'VEC3', array));
}

/** Weights of a vertex that differ from one by more than this times their number are an error for a validator. */
const SUM_TOLERANCE = 2e-7;

/** Whether the weights of every vertex sum to one, as closely as their numbers can. */
export function areWeightsNormalised({
  influences,
  jointWeights,
}: Pick<Section, 'influences' | 'jointWeights'>): boolean {
  for (let from = 0; from < jointWeights.length; from += influences) {
    let [sum, used] = [0, 0];
    for (let i = from; i < from + influences; i++) {
      sum += jointWeights[i]!;
      if (jointWeights[i]! > 0) used++;
    }
    if (Math.abs(sum - 1) > SUM_TOLERANCE * used) return false;
  }
  return true;
}

/** Joint numbers and weights of a section as sets of four; the weights of every vertex brought to a sum of one. */
export function writeWeights(
  document: Document,
  buffer: Buffer,
  primitive: ReturnType<Document['createPrimitive']>,
  section: Pick<Section, 'influences' | 'jointIndices' | 'jointWeights'>,
): void {
  const count = section.jointIndices.length / section.influences;
  const normalised = normaliseRows(section);
  for (let set = 0; set < section.influences / 4; set++) {
    const joints = new Uint16Array(4 * count);
    const weights = new Float32Array(4 * count);
    for (let v = 0; v < count; v++) {
      const from = section.influences * v + 4 * set;
      joints.set(section.jointIndices.subarray(from, from + 4), 4 * v);
      weights.set(normalised.subarray(from, from + 4), 4 * v);
    }
    primitive.setAttribute(`JOINTS_${set}`, createAccessor(document, buffer, 'VEC4', joints));
    primitive.setAttribute(`WEIGHTS_${set}`, createAccessor(document, buffer, 'VEC4', weights));
  }
}

function normaliseRows({
  influences,
  jointWeights,
}: Pick<Section, 'influences' | 'jointWeights'>): Float32Array {
  const rows = jointWeights.slice();
  for (let from = 0; from < rows.length; from += influences) {
    let sum = 0;
    for (let i = from; i < from + influences; i++) sum += rows[i]!;
    if (!(sum > 0) || sum === 1) continue;
    for (let i = from; i < from + influences; i++) rows[i] = rows[i]! / sum;
  }
  return rows;
}

/** Adds the clips of a character as animations. */
export function writeClips(document: Document, buffer: Buffer, character: Character, nodes: Node[]): void {
  for (const clip of character.clips) {
    const animation = document.createAnimation(clip.name);
    const accessorOf = new Map<string, Accessor>();
    for (const track of clip.tracks) {
      const key = track.times.join();
      let input = accessorOf.get(key);
      if (!input) {
        input = createAccessor(document, buffer, 'SCALAR', track.times);
        accessorOf.set(key, input);
      }
      const sampler = document
        .createAnimationSampler()
        .setInterpolation(track.interpolation)
        .setInput(input)
        .setOutput(createAccessor(document, buffer, pathType(track), track.values));
      animation
        .addSampler(sampler)
        .addChannel(
          document
            .createAnimationChannel()
            .setTargetNode(nodes[track.node]!)
            .setTargetPath(track.path)
            .setSampler(sampler),
        );
    }
  }
}

function pathType(track: Track): (typeof PATH_WIDTH)[keyof typeof PATH_WIDTH] {
  return PATH_WIDTH[track.path];
}

function createAccessor(
  document: Document,
  buffer: Buffer,
  type: 'SCALAR' | 'VEC2' | 'VEC3' | 'VEC4' | 'MAT4',
  array: Float32Array | Uint32Array | Uint16Array,
): Accessor {
  return document
    .createAccessor()
    .setBuffer(buffer)
    .setType(type)
    .setArray(array.slice() as Float32Array<ArrayBuffer>);
}
