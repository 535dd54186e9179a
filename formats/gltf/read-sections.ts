import { type Document, type Mesh, type Node, Primitive } from '@gltf-transform/core';
import { computeVertexNormals, weldPoints } from '../../core/mesh/index.ts';
import type { MorphTarget, Section, Skin } from '../../core/rig/index.ts';
import { IntakeError } from '../intake-error.ts';
import { joinSeams } from '../join-seams.ts';
import type { ReadLimits } from '../source-file.ts';
import { readAccessor } from './read-accessor.ts';
import { readWeights } from './read-weights.ts';
import type { RepairLog } from './repair-log.ts';
import { readUvs } from './uv-transform.ts';

export interface SectionContext {
  document: Document;
  nodes: Node[];
  nodeNames: string[];
  skins: Skin[];
  file: string;
  limits: ReadLimits;
  log: RepairLog;
  /** See `SourceFile.keepsSeams`. */
  keepsSeams: boolean;
}

/** All triangle primitives of all mesh nodes, in node order; rigid ones get a skin of their own node. */
export function readSections(context: SectionContext): Section[] {
  const { document, nodes, log, limits, file } = context;
  const meshes = document.getRoot().listMeshes();
  const sections: Section[] = [];
  let vertices = 0;
  nodes.forEach((node, nodeIndex) => {
    const mesh = node.getMesh();
    if (!mesh) return;
    mesh.listPrimitives().forEach((primitive, primitiveIndex) => {
      const meshIndex = meshes.indexOf(mesh);
      const where = `mesh ${meshIndex} "${mesh.getName()}", primitive ${primitiveIndex}`;
      const mode = primitive.getMode();
      if (mode < Primitive.Mode.TRIANGLES) {
        log.note('not-triangles', where, 'It is made of points or lines and is left out.');
        return;
      }
      vertices += primitive.getAttribute('POSITION')!.getCount();
      if (vertices > limits.vertices) {
        throw new IntakeError(
          'too-large',
          file,
          where,
          `More than ${limits.vertices.toLocaleString('en')} vertices.`,
          'Reduce the meshes before bringing them in.',
        );
      }
      sections.push(readSection(context, node, nodeIndex, mesh, meshIndex, primitive, primitiveIndex, where));
    });
  });
  nameSections(sections);
  return sections;
}

function readSection(
  context: SectionContext,
  node: Node,
  nodeIndex: number,
  mesh: Mesh,
  meshIndex: number,
  primitive: Primitive,
  primitiveIndex: number,
  where: string,
): Section {
  const { document, skins, file, log } = context;
  const positions = readAccessor(primitive.getAttribute('POSITION')!);
  checkFinite(positions, file, where);
  const vertexCount = positions.length / 3;
  const triangles = readTriangles(primitive, vertexCount, file, where);
  if (!context.keepsSeams) joinSeams(positions, triangles, where, log);
  const gltfSkin = node.getSkin();
  const isSkinned = gltfSkin !== null && primitive.getAttribute('JOINTS_0') !== null;
  if (gltfSkin && !isSkinned)
    log.note('no-joints', where, 'It has a skin but no weights, and rides on its node.');
  let skin = gltfSkin ? document.getRoot().listSkins().indexOf(gltfSkin) : -1;
  let weights: Pick<Section, 'influences' | 'jointIndices' | 'jointWeights' | 'unweighted'>;
  if (isSkinned) {
    weights = readWeights(primitive, skins[skin]!.joints.length, file, where, log);
  } else {
    skin = addRigidSkin(skins, nodeIndex, node.getName());
    weights = rideOnFirstJoint(vertexCount);
    flipMirrored(node, triangles, where, log);
  }
  const material = primitive.getMaterial();
  const morphs = primitive.listTargets().map((target, index): MorphTarget => {
    const offsets = target.getAttribute('POSITION');
    const normals = target.getAttribute('NORMAL');
    return {
      name: target.getName() || readTargetNames(mesh)[index] || `morph ${index}`,
      positions: offsets ? readAccessor(offsets) : new Float32Array(positions.length),
      normals: normals ? readAccessor(normals) : null,
    };
  });
  const meshWeights = node.getWeights().length > 0 ? node.getWeights() : mesh.getWeights();
  return {
    name: '',
    meshIndex,
    meshName: mesh.getName(),
    primitiveIndex,
    materialName: material?.getName() ?? '',
    node: nodeIndex,
    skin,
    isRigid: !isSkinned,
    positions,
    normals: readNormals(primitive, positions, triangles, where, log),
    uvs: readUvs(primitive),
    colors: readColors(primitive),
    ...weights,
    triangles,
    morphs,
    morphWeights: Float32Array.from(morphs, (_, index) => meshWeights[index] ?? 0),
    baseColor: material?.getBaseColorFactor() ?? [1, 1, 1, 1],
    isTwoSided: material?.getDoubleSided() ?? false,
  };
}

function checkFinite(positions: Float32Array, file: string, where: string): void {
  const bad = positions.findIndex((value) => !Number.isFinite(value));
  if (bad >= 0) {
    throw new IntakeError(
      'not-a-number',
      file,
      `${where}, vertex ${Math.floor(bad / 3)}`,
      'Its position is not a number.',
      'Delete or repair that vertex and export again.',
    );
  }
}

/** Indices of triangles; strips and fans are unrolled, missing indices are counted up. */
function readTriangles(primitive: Primitive, vertexCount: number, file: string, where: string): Uint32Array {
  const accessor = primitive.getIndices();
  const indices = accessor
    ? Uint32Array.from(accessor.getArray()!)
    : Uint32Array.from({ length: vertexCount }, (_, index) => index);
  const beyond = indices.findIndex((index) => index >= vertexCount);
  if (beyond >= 0) {
    throw new IntakeError(
      'index-out-of-range',
      file,
      `${where}, index ${beyond}`,
      `It is ${indices[beyond]}; there are ${vertexCount} vertices.`,
      'Export the mesh again.',
    );
  }
  const mode = primitive.getMode();
  if (mode === Primitive.Mode.TRIANGLES) return indices.slice(0, indices.length - (indices.length % 3));
  const unrolled: number[] = [];
  for (let i = 2; i < indices.length; i++) {
    if (mode === Primitive.Mode.TRIANGLE_FAN) unrolled.push(indices[0]!, indices[i - 1]!, indices[i]!);
    else if (i % 2 === 0) unrolled.push(indices[i - 2]!, indices[i - 1]!, indices[i]!);
    else unrolled.push(indices[i - 1]!, indices[i - 2]!, indices[i]!);
  }
  return Uint32Array.from(unrolled);
}

function readNormals(
  primitive: Primitive,
  positions: Float32Array,
  triangles: Uint32Array,
  where: string,
  log: RepairLog,
): Float32Array {
  const accessor = primitive.getAttribute('NORMAL');
  const normals = accessor ? readAccessor(accessor) : null;
  if (normals?.every(Number.isFinite)) return normals;
  log.repair(
    'normals',
    where,
    normals
      ? 'Its normals held bad numbers and were made anew.'
      : 'It has no normals; smooth ones were made.',
  );
  const { pointCount, pointOfVertex } = weldPoints(positions);
  const points = new Float32Array(3 * pointCount);
  pointOfVertex.forEach((point, vertex) => {
    for (let k = 0; k < 3; k++) points[3 * point + k] = positions[3 * vertex + k]!;
  });
  const pointNormals = computeVertexNormals(
    points,
    triangles.map((vertex) => pointOfVertex[vertex]!),
    new Float32Array(3 * pointCount),
  );
  const made = new Float32Array(positions.length);
  pointOfVertex.forEach((point, vertex) => {
    for (let k = 0; k < 3; k++) made[3 * vertex + k] = pointNormals[3 * point + k]!;
  });
  return made;
}

function readColors(primitive: Primitive): Float32Array | null {
  const accessor = primitive.getAttribute('COLOR_0');
  if (!accessor) return null;
  const values = readAccessor(accessor);
  const width = accessor.getElementSize();
  if (width === 3) return values;
  const colors = new Float32Array(3 * accessor.getCount());
  for (let i = 0; i < accessor.getCount(); i++)
    for (let k = 0; k < 3; k++) colors[3 * i + k] = values[width * i + k]!;
  return colors;
}

function addRigidSkin(skins: Skin[], node: number, name: string): number {
  const inverseBinds = new Float32Array(16);
  for (let k = 0; k < 16; k += 5) inverseBinds[k] = 1;
  skins.push({ name: `rides on ${name}`, joints: Uint32Array.of(node), inverseBinds });
  return skins.length - 1;
}

function rideOnFirstJoint(
  vertexCount: number,
): Pick<Section, 'influences' | 'jointIndices' | 'jointWeights'> {
  const jointWeights = new Float32Array(4 * vertexCount);
  for (let v = 0; v < vertexCount; v++) jointWeights[4 * v] = 1;
  return { influences: 4, jointIndices: new Uint16Array(4 * vertexCount), jointWeights };
}

/** A node with a mirroring transform turns its triangles inside out; the standard asks to flip them. */
function flipMirrored(node: Node, triangles: Uint32Array, where: string, log: RepairLog): void {
  const m = node.getWorldMatrix();
  const determinant =
    m[0]! * (m[5]! * m[10]! - m[6]! * m[9]!) -
    m[4]! * (m[1]! * m[10]! - m[2]! * m[9]!) +
    m[8]! * (m[1]! * m[6]! - m[2]! * m[5]!);
  if (determinant >= 0) return;
  for (let i = 0; i < triangles.length; i += 3) {
    const swap = triangles[i + 1]!;
    triangles[i + 1] = triangles[i + 2]!;
    triangles[i + 2] = swap;
  }
  log.note('mirrored', where, 'Its node mirrors it; the triangles are turned to face outward.');
}

function readTargetNames(mesh: Mesh): string[] {
  const names: unknown = (mesh.getExtras() as { targetNames?: unknown }).targetNames;
  return Array.isArray(names) ? names.map(String) : [];
}

/** A section is called after its mesh, with the material when the mesh has several; a number keeps names apart. */
function nameSections(sections: Section[]): void {
  const perMesh = new Map<string, number>();
  for (const { meshIndex, node } of sections) {
    const key = `${meshIndex} ${node}`;
    perMesh.set(key, (perMesh.get(key) ?? 0) + 1);
  }
  const used = new Map<string, number>();
  for (const section of sections) {
    const meshName = section.meshName || `mesh ${section.meshIndex}`;
    const isOneOfSeveral = perMesh.get(`${section.meshIndex} ${section.node}`)! > 1;
    const part = section.materialName || `part ${section.primitiveIndex}`;
    const base = isOneOfSeveral ? `${meshName} / ${part}` : meshName;
    const seen = (used.get(base) ?? 0) + 1;
    used.set(base, seen);
    section.name = seen > 1 ? `${base} (${seen})` : base;
  }
}
