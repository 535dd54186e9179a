import type { Document, Node } from '@gltf-transform/core';

/**
 * All nodes of a document, parents before children, brothers in file order: the order of `Skeleton`. Reading
 * and shipping use the same list, so that a node number means the same node in both.
 */
export function listNodesInOrder(document: Document): Node[] {
  const ordered: Node[] = [];
  const visit = (node: Node): void => {
    ordered.push(node);
    for (const child of node.listChildren()) visit(child);
  };
  for (const node of document.getRoot().listNodes()) if (!node.getParentNode()) visit(node);
  return ordered;
}
