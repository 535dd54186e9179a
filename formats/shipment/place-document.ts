import type { Document } from '@gltf-transform/core';
import { type AuthoredDocument, listSteps } from '../../core/document/index.ts';
import { type FileScales, getPlacementTurn, type Placement } from '../../core/rig/index.ts';

const NODE_NAME = 'placement';

/**
 * Hangs the scene below a node that turns and scales it, for each step that places the character: what is in the file stays as it
 * came, and comes out at the size that it was authored at.
 *
 * @param scales - Of the file as it came. @returns Those of the file as it is now.
 */
export function placeDocument(
  document: Document,
  authored: AuthoredDocument,
  scales: FileScales | null,
  { nodes, skins }: { nodes: number; skins: number },
): FileScales | null {
  const placements = listSteps(authored).flatMap(({ act }) => (act.kind === 'place' ? [act] : []));
  if (placements.length === 0) return scales;
  for (const placement of placements) hangBelow(document, placement);
  const scale = placements.reduce((product, placement) => product * placement.scale, 1);
  return {
    nodes: (scales?.nodes ?? new Float64Array(nodes).fill(1)).map((own) => scale * own),
    skins: (scales?.skins ?? new Float64Array(skins).fill(1)).map((own) => scale * own),
  };
}

function hangBelow(document: Document, placement: Placement): void {
  const { scale } = placement;
  for (const scene of document.getRoot().listScenes()) {
    const node = document
      .createNode(NODE_NAME)
      .setRotation(getPlacementTurn(placement))
      .setScale([scale, scale, scale]);
    for (const child of scene.listChildren()) {
      // What follows its joints alone stays at the root, as the standard asks.
      if (child.getSkin() && child.listChildren().length === 0) continue;
      scene.removeChild(child);
      node.addChild(child);
    }
    scene.addChild(node);
  }
}
