import { Extension, type Node, type WriterContext } from '@gltf-transform/core';

/** JSON that an extension puts at the root and on nodes; node references are given as nodes, filled in on writing. */
export interface RawPayload {
  root?: (indexOf: (node: Node) => number) => object;
  nodes?: Map<Node, object>;
}

/** An extension class whose instances carry a payload. */
export type RawExtensionClass = typeof Extension &
  (new (
    ...args: ConstructorParameters<typeof Extension>
  ) => Extension & { payload: RawPayload });

/**
 * Makes an extension class that writes given JSON under a name. The extensions we ship are plain JSON beside the
 * geometry, so one small class serves them all.
 */
export function defineRawExtension(name: string): RawExtensionClass {
  return class RawExtension extends Extension {
    static override readonly EXTENSION_NAME = name;
    override readonly extensionName = name;
    payload: RawPayload = {};

    override read(): this {
      return this;
    }

    override write(context: WriterContext): this {
      const { json } = context.jsonDoc;
      const indexOf = (node: Node): number => context.nodeIndexMap.get(node)!;
      if (this.payload.root) {
        json.extensions = { ...json.extensions, [name]: this.payload.root(indexOf) };
      }
      for (const [node, value] of this.payload.nodes ?? []) {
        const target = json.nodes![indexOf(node)]!;
        target.extensions = { ...target.extensions, [name]: value };
      }
      return this;
    }
  };
}
