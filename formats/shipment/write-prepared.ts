import type { Document, Material, Node, Primitive, Skin } from '@gltf-transform/core';
import { type Character, type FileScales, restoreSection, type Section } from '../../core/rig/index.ts';
import { invertUvMatrix, placeUvs, readUvTransform } from '../gltf/uv-transform.ts';
import { writePrimitive } from '../gltf/write-character.ts';
import { REST_ATTRIBUTE } from './cloth-extension.ts';

/** Where a section stands in the document. */
export interface WrittenPrimitive {
  node: Node;
  primitive: Primitive;
  /** Place among the primitives of the node's mesh. */
  place: number;
}

/**
 * Puts sections that were changed by preparation in place of those of the source, and adds the new ones as nodes of
 * their own.
 *
 * @param nodes - Of the source, in the order of its character. @param scales - Of the file: it is written in its own units.
 * @returns One for each section of `prepared`.
 */
export function writePrepared(
  document: Document,
  nodes: readonly Node[],
  source: Character,
  prepared: Character,
  scales: FileScales | null,
): WrittenPrimitive[] {
  const skinOf = (section: Section): Skin | null => {
    const like = source.sections.find(({ skin, isRigid }) => skin === section.skin && !isRigid);
    return like ? nodes[like.node]!.getSkin() : null;
  };
  return prepared.sections.map((section, index) => {
    const original = source.sections[index];
    if (original === section) {
      const node = nodes[section.node]!;
      const place = section.primitiveIndex;
      return { node, primitive: node.getMesh()!.listPrimitives()[place]!, place };
    }
    if (!original) {
      const node = document
        .createNode(section.name)
        .setMesh(document.createMesh(section.name))
        .setSkin(skinOf(section));
      // What follows one joint alone hangs on it.
      const joint = section.isRigid ? nodes[source.skins[section.skin]!.joints[0]!] : undefined;
      (joint ?? document.getRoot().getDefaultScene()!).addChild(node);
      const primitive = writeSection(document, restoreSection(section, scales));
      node
        .getMesh()!
        .addPrimitive(primitive)
        .setWeights([...section.morphWeights]);
      return { node, primitive, place: 0 };
    }
    const node = nodes[section.node]!;
    const old = takeMesh(node).listPrimitives()[section.primitiveIndex]!;
    const primitive = writeSection(document, restoreSection(section, scales)).setMaterial(old.getMaterial());
    writeUvsFor(primitive, old.getMaterial());
    replacePrimitive(node, old, primitive);
    if (section.morphWeights.length !== original.morphWeights.length)
      node.getMesh()!.setWeights([...section.morphWeights]);
    const skin = skinOf(section);
    if (skin) node.setSkin(skin);
    return { node, primitive, place: section.primitiveIndex };
  });
}

/** The mesh of a node, made its own when other nodes show it too. */
function takeMesh(node: Node): NonNullable<ReturnType<Node['getMesh']>> {
  const mesh = node.getMesh()!;
  const users = mesh.listParents().filter((parent) => parent.propertyType === 'Node');
  if (users.length < 2) return mesh;
  const own = mesh.clone();
  node.setMesh(own);
  return own;
}

/** In the same place of the list. */
function replacePrimitive(node: Node, old: Primitive, made: Primitive): void {
  const mesh = node.getMesh()!;
  const list = mesh.listPrimitives();
  for (const primitive of list) mesh.removePrimitive(primitive);
  for (const primitive of list) mesh.addPrimitive(primitive === old ? made : primitive);
}

/** The material places its images itself: what is written are the coordinates before that, in each set up to the one it goes by. */
function writeUvsFor(primitive: Primitive, material: Material | null): void {
  const written = primitive.getAttribute('TEXCOORD_0');
  if (!written) return;
  const { set, matrix } = readUvTransform(material);
  written.setArray(
    placeUvs(written.getArray() as Float32Array, invertUvMatrix(matrix)) as Float32Array<ArrayBuffer>,
  );
  for (let other = 1; other <= set; other++) primitive.setAttribute(`TEXCOORD_${other}`, written);
}

function writeSection(document: Document, section: Section): Primitive {
  const buffer = document.getRoot().listBuffers()[0]!;
  const primitive = writePrimitive(document, buffer, section);
  if (section.restPositions) {
    primitive.setAttribute(
      REST_ATTRIBUTE,
      document.createAccessor().setBuffer(buffer).setType('VEC3').setArray(section.restPositions.slice()),
    );
  }
  return primitive;
}
