import { IntakeError, type IntakeErrorCode } from '../intake-error.ts';
import type { ReadLimits } from '../source-file.ts';
import { checkLayout } from './check-layout.ts';
import { checkLooks } from './check-looks.ts';
import { checkReference, isCount } from './check-reference.ts';
import { DRACO_EXTENSION } from './gltf-io.ts';
import {
  COMPONENT_BYTES,
  type RawAccessor,
  type RawGltf,
  type RawPrimitive,
  TYPE_WIDTH,
} from './raw-gltf.ts';

/** Extensions that change how geometry is to be read, and that we read. Others may be required by materials. */
const READABLE_EXTENSIONS =
  /^(KHR_mesh_quantization|EXT_meshopt_compression|KHR_meshopt_compression|KHR_draco_mesh_compression|KHR_implicit_shapes|KHR_physics_rigid_bodies|COBWEB_cloth|KHR_(materials|texture|lights)_\w+|EXT_texture_\w+)$/;

/**
 * Checks the structure of a glTF before anything is unpacked: every reference points to something, every range
 * lies within its buffer, nodes form trees, counts agree, and nothing asks for more memory than the limits.
 *
 * @param bufferLengths - Bytes that are really there for each buffer.
 * @throws {IntakeError} for the first thing that is wrong, by name and number.
 */
export function checkRawGltf(json: RawGltf, file: string, bufferLengths: number[], limits: ReadLimits): void {
  checkLayout(json, file);
  const check = new Checker(json, file, limits);
  check.checkVersion();
  check.checkBufferViews(bufferLengths);
  check.checkAccessors();
  check.checkNodes();
  check.checkSkins();
  check.checkMeshes();
  check.checkAnimations();
  checkLooks(json, file);
}

class Checker {
  readonly #json: RawGltf;
  readonly #file: string;
  readonly #limits: ReadLimits;

  constructor(json: RawGltf, file: string, limits: ReadLimits) {
    this.#json = json;
    this.#file = file;
    this.#limits = limits;
  }

  checkVersion(): void {
    const { asset, extensionsRequired = [] } = this.#json;
    const version = asset?.version;
    if (typeof version !== 'string' || !version.startsWith('2.')) {
      this.#fail(
        'wrong-version',
        'asset',
        `The version is ${JSON.stringify(version ?? null)}.`,
        'Export as glTF 2.0.',
      );
    }
    const unknown = extensionsRequired.filter((name) => !READABLE_EXTENSIONS.test(String(name)));
    if (unknown.length > 0) {
      this.#fail(
        'unsupported-extension',
        'extensionsRequired',
        `The file cannot be read without ${unknown.join(', ')}, which we do not read.`,
        'Export again without that packing.',
      );
    }
  }

  checkBufferViews(bufferLengths: number[]): void {
    this.#json.buffers?.forEach((buffer, i) => {
      const declared = buffer.byteLength;
      if (!isCount(declared)) this.#fail('damaged-json', `buffer ${i}`, 'It has no byteLength.');
      const isFallback = Object.keys(buffer.extensions ?? {}).some((name) =>
        name.endsWith('meshopt_compression'),
      );
      if (!isFallback && declared > bufferLengths[i]!) {
        this.#fail(
          'truncated',
          `buffer ${i}`,
          `${declared} bytes are declared, ${bufferLengths[i]} are there.`,
        );
      }
    });
    this.#json.bufferViews?.forEach((view, i) => {
      const where = `bufferView ${i}`;
      const ranges = [
        view,
        ...Object.values(view.extensions ?? {}).filter((range) => range?.buffer !== undefined),
      ];
      for (const range of ranges) {
        const offset = range.byteOffset ?? 0;
        this.#checkReference(range.buffer, this.#json.buffers, 'buffer', where);
        const isPacked = ranges.length > 1 && range === view;
        const available = isPacked
          ? this.#json.buffers![range.buffer!]!.byteLength!
          : bufferLengths[range.buffer!]!;
        if (!isCount(offset) || !isCount(range.byteLength) || offset + range.byteLength > available) {
          const told = JSON.stringify([offset, range.byteLength ?? null]).slice(1, -1);
          this.#fail(
            'out-of-bounds',
            where,
            `Its byteOffset and byteLength are ${told}, of a buffer of ${available} bytes.`,
          );
        }
      }
    });
  }

  checkAccessors(): void {
    let values = 0;
    this.#json.accessors?.forEach((accessor, i) => {
      const where = `accessor ${i}`;
      const bytes = COMPONENT_BYTES[accessor.componentType ?? 0];
      const width = TYPE_WIDTH[accessor.type ?? ''];
      if (!bytes || !width) {
        const [told, type] = [accessor.componentType, accessor.type].map((value) =>
          JSON.stringify(value ?? null),
        );
        this.#fail('wrong-type', where, `There are no values of componentType ${told} and type ${type}.`);
      }
      if (!isCount(accessor.count) || accessor.count < 1) {
        this.#fail('wrong-count', where, `Its count is ${JSON.stringify(accessor.count ?? null)}.`);
      }
      values += accessor.count * width;
      if (values > this.#limits.values) {
        this.#fail(
          'too-large',
          where,
          `The data would unpack to more than ${this.#limits.values.toLocaleString('en')} numbers.`,
          'Split the file, or take out what is not needed.',
        );
      }
      if (accessor.bufferView !== undefined) {
        this.#checkRange(where, accessor.bufferView, accessor.byteOffset ?? 0, accessor.count, bytes * width);
      }
      if (accessor.sparse) this.#checkSparse(where, accessor, bytes * width);
    });
  }

  checkNodes(): void {
    const nodes = this.#json.nodes ?? [];
    const parents = new Int32Array(nodes.length).fill(-1);
    nodes.forEach((node, i) => {
      const where = this.#nodeName(i);
      this.#checkReference(node.mesh, this.#json.meshes, 'mesh', where, true);
      this.#checkReference(node.skin, this.#json.skins, 'skin', where, true);
      this.#checkNumbers(node.matrix, 16, `${where}, matrix`);
      this.#checkNumbers(node.translation, 3, `${where}, translation`);
      this.#checkNumbers(node.rotation, 4, `${where}, rotation`);
      this.#checkNumbers(node.scale, 3, `${where}, scale`);
      for (const child of this.#list(node.children, `${where}, children`)) {
        this.#checkReference(child, nodes, 'node', where);
        if (parents[child]! >= 0) {
          this.#fail(
            'cyclic-nodes',
            this.#nodeName(child),
            `It is a child of ${this.#nodeName(parents[child]!)} and of ${where}.`,
          );
        }
        parents[child] = i;
      }
    });
    nodes.forEach((_, start) => {
      // A chain of parents longer than the list of nodes goes round.
      let node = start;
      for (let steps = 0; parents[node]! >= 0; steps++) {
        node = parents[node]!;
        if (steps > nodes.length)
          this.#fail('cyclic-nodes', this.#nodeName(start), 'It is its own ancestor.');
      }
    });
    this.#checkReference(this.#json.scene, this.#json.scenes, 'scene', 'scene', true);
    this.#json.scenes?.forEach((scene, i) => {
      for (const node of this.#list(scene.nodes, `scene ${i}`))
        this.#checkReference(node, nodes, 'node', `scene ${i}`);
    });
  }

  checkSkins(): void {
    this.#json.skins?.forEach((skin, i) => {
      const where = `skin ${i}${skin.name ? ` "${skin.name}"` : ''}`;
      const joints = this.#list(skin.joints, `${where}, joints`);
      if (joints.length === 0) this.#fail('wrong-count', where, 'It has no joints.');
      for (const joint of joints) this.#checkReference(joint, this.#json.nodes, 'node', where);
      if (skin.inverseBindMatrices === undefined) return;
      const accessor = this.#accessor(skin.inverseBindMatrices, where);
      if (accessor.type !== 'MAT4' || accessor.componentType !== 5126) {
        this.#fail(
          'wrong-type',
          `${where}, inverseBindMatrices`,
          `They are ${accessor.type}, not MAT4 of floats.`,
        );
      }
      if (accessor.count! < joints.length) {
        this.#fail(
          'wrong-count',
          where,
          `${joints.length} joints, but ${accessor.count} inverse bind matrices.`,
        );
      }
    });
  }

  checkMeshes(): void {
    this.#json.meshes?.forEach((mesh, m) => {
      const primitives = this.#list(mesh.primitives, `mesh ${m}`) as RawPrimitive[];
      primitives.forEach((primitive, p) => {
        this.#checkPrimitive(primitive, `mesh ${m}${mesh.name ? ` "${mesh.name}"` : ''}, primitive ${p}`);
      });
    });
  }

  checkAnimations(): void {
    this.#json.animations?.forEach((animation, a) => {
      const name = `animation ${a}${animation.name ? ` "${animation.name}"` : ''}`;
      animation.channels?.forEach((channel, c) => {
        const where = `${name}, channel ${c}`;
        this.#checkReference(channel.sampler, animation.samplers, 'sampler', where);
        if (!channel.target) this.#fail('damaged-json', where, 'It has no target.');
        this.#checkReference(channel.target.node, this.#json.nodes, 'node', where, true);
      });
      animation.samplers?.forEach((sampler, s) => {
        const where = `${name}, sampler ${s}`;
        const input = this.#accessor(sampler.input, where);
        this.#accessor(sampler.output, where);
        if (input.type !== 'SCALAR' || input.componentType !== 5126) {
          this.#fail('wrong-type', where, `Its times are ${input.type}, not floats.`);
        }
      });
    });
  }

  #checkPrimitive(primitive: RawPrimitive, where: string): void {
    const attributes = primitive.attributes ?? {};
    this.#checkReference(primitive.material, this.#json.materials, 'material', where, true);
    if (attributes.POSITION === undefined) this.#fail('no-geometry', where, 'It has no POSITION.');
    this.#checkDraco(primitive, where);
    const count = this.#accessor(attributes.POSITION, `${where}, POSITION`).count!;
    for (const [name, index] of Object.entries(attributes)) {
      const accessor = this.#accessor(index, `${where}, ${name}`);
      if (accessor.count !== count) {
        this.#fail('wrong-count', `${where}, ${name}`, `${accessor.count} rows for ${count} vertices.`);
      }
      this.#checkAttributeType(name, accessor, `${where}, ${name}`);
    }
    this.#list(primitive.targets, `${where}, targets`).forEach((target, t) => {
      for (const [name, index] of Object.entries(target ?? {})) {
        const accessor = this.#accessor(index, `${where}, target ${t}, ${name}`);
        if (accessor.count !== count) {
          this.#fail(
            'wrong-count',
            `${where}, target ${t}, ${name}`,
            `${accessor.count} rows for ${count} vertices.`,
          );
        }
      }
    });
    if (primitive.indices !== undefined) {
      const accessor = this.#accessor(primitive.indices, `${where}, indices`);
      if (accessor.type !== 'SCALAR' || ![5121, 5123, 5125].includes(accessor.componentType!)) {
        this.#fail(
          'wrong-type',
          `${where}, indices`,
          `They are ${accessor.type} of type ${accessor.componentType}.`,
        );
      }
    }
  }

  /** What is packed names its bytes; which of them are what is told when they are unpacked. */
  #checkDraco({ extensions, mode = 4 }: RawPrimitive, where: string): void {
    const packed = extensions?.[DRACO_EXTENSION] as { bufferView?: unknown } | undefined;
    if (packed === undefined) return;
    this.#checkReference(packed?.bufferView, this.#json.bufferViews, 'bufferView', `${where}, Draco`);
    if (mode < 4) this.#fail('damaged-json', where, 'It is packed with Draco, but made of points or lines.');
  }

  #checkAttributeType(name: string, accessor: RawAccessor, where: string): void {
    const wanted =
      name === 'POSITION' || name === 'NORMAL' ? 'VEC3' : /^(JOINTS|WEIGHTS)_/.test(name) ? 'VEC4' : null;
    if (wanted && accessor.type !== wanted)
      this.#fail('wrong-type', where, `It is ${accessor.type}, not ${wanted}.`);
    if (name.startsWith('JOINTS_') && ![5121, 5123].includes(accessor.componentType!)) {
      this.#fail(
        'wrong-type',
        where,
        `Joint numbers are of type ${accessor.componentType}, not unsigned bytes or shorts.`,
      );
    }
  }

  #checkSparse(where: string, accessor: RawAccessor, elementBytes: number): void {
    const { count, indices, values } = accessor.sparse!;
    if (!isCount(count) || count > accessor.count!) {
      const told = JSON.stringify(count ?? null);
      this.#fail('wrong-count', `${where}, sparse`, `${told} of ${accessor.count} elements are replaced.`);
    }
    const indexBytes = COMPONENT_BYTES[indices?.componentType ?? 0] ?? 0;
    if (indexBytes === 0) this.#fail('wrong-type', `${where}, sparse`, 'Its indices have no type.');
    this.#checkRange(
      `${where}, sparse indices`,
      indices?.bufferView,
      indices?.byteOffset ?? 0,
      count,
      indexBytes,
    );
    this.#checkRange(
      `${where}, sparse values`,
      values?.bufferView,
      values?.byteOffset ?? 0,
      count,
      elementBytes,
    );
  }

  #checkRange(
    where: string,
    viewIndex: number | undefined,
    offset: number,
    count: number,
    elementBytes: number,
  ): void {
    this.#checkReference(viewIndex, this.#json.bufferViews, 'bufferView', where);
    const view = this.#json.bufferViews![viewIndex!]!;
    const stride = view.byteStride ?? elementBytes;
    const end = offset + (count - 1) * stride + elementBytes;
    if (!isCount(offset) || stride < elementBytes || (count > 0 && end > view.byteLength!)) {
      this.#fail(
        'out-of-bounds',
        where,
        `It needs ${end} bytes of bufferView ${viewIndex}, which has ${view.byteLength}.`,
      );
    }
  }

  #accessor(index: number | undefined, where: string): RawAccessor {
    this.#checkReference(index, this.#json.accessors, 'accessor', where);
    return this.#json.accessors![index!]!;
  }

  #checkReference(
    index: unknown,
    list: unknown[] | undefined,
    kind: string,
    where: string,
    isOptional = false,
  ): void {
    checkReference(this.#file, index, list, kind, where, isOptional);
  }

  #checkNumbers(values: unknown, length: number, where: string): void {
    if (values === undefined) return;
    const isFine =
      Array.isArray(values) && values.length === length && values.every((value) => Number.isFinite(value));
    if (!isFine) this.#fail('not-a-number', where, `It is not ${length} finite numbers.`);
  }

  #list<T>(value: T[] | undefined, where: string): T[] {
    if (value === undefined) return [];
    if (!Array.isArray(value)) this.#fail('damaged-json', where, 'It is not a list.');
    return value;
  }

  #nodeName(index: number): string {
    const name = this.#json.nodes?.[index]?.name;
    return `node ${index}${name ? ` "${name}"` : ''}`;
  }

  #fail(
    code: IntakeErrorCode,
    where: string,
    found: string,
    remedy = 'Export the file again, or repair it in the program it came from.',
  ): never {
    throw new IntakeError(code, this.#file, where, found, remedy);
  }
}
