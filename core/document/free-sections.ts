import { findSection, type Section } from '../rig/index.ts';
import { type AuthoredDocument, listGarments } from './document.ts';

/** Sections that are neither garments, nor drawn in place of one, nor sim meshes. In file order. */
export function listFreeSections(
  document: Pick<AuthoredDocument, 'records'>,
  sections: readonly Pick<Section, 'isSimMesh' | 'name'>[],
): number[] {
  const worn = new Set(
    listGarments(document).flatMap((garment) =>
      [garment, ...garment.renders].map((name) => findSection({ sections }, name)),
    ),
  );
  return Array.from(sections.keys()).filter((index) => !worn.has(index) && !sections[index]!.isSimMesh);
}
