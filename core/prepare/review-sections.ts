import { type AuthoredDocument, listGarments, listSteps } from '../document/index.ts';
import { SpatialIndex } from '../math/index.ts';
import { type Character, findSection } from '../rig/index.ts';
import { createSectionMesh } from '../steps/index.ts';

export type MatchState = 'same' | 'changed' | 'missing' | 'new';

/** One section of the old or the new source. */
export interface SectionReview {
  name: string;
  state: MatchState;
  /** It stands elsewhere in the list. */
  isMoved: boolean;
  /** Garments and steps that name it. */
  uses: string[];
  pointsBefore: number;
  pointsAfter: number;
  /** Greatest distance of a point of the new surface from the old one, m; 0 when one of the two is not there. */
  farthest: number;
}

/** What became of each section of a source in another version of it, and what is new. */
export function reviewSections(
  from: Character,
  to: Character,
  document: AuthoredDocument,
  renames: Readonly<Record<string, string>>,
): SectionReview[] {
  const matched = new Set<number>();
  const reviewed = from.sections.map((section, index): SectionReview => {
    const wanted = renames[section.name] ?? section.name;
    const after = findSection(to, { sectionIndex: index, sectionName: wanted });
    if (after >= 0) matched.add(after);
    const uses = listUses(document, section.name);
    const pointsBefore = createSectionMesh(from, index).pointCount;
    if (after < 0)
      return {
        name: section.name,
        state: 'missing',
        isMoved: false,
        uses,
        pointsBefore,
        pointsAfter: 0,
        farthest: 0,
      };
    const { pointCount } = createSectionMesh(to, after);
    const farthest = measureFarthest(from, index, to, after);
    const isSame = pointCount === pointsBefore && farthest < 1e-5;
    return {
      name: section.name,
      state: isSame ? 'same' : 'changed',
      isMoved: after !== index,
      uses,
      pointsBefore,
      pointsAfter: pointCount,
      farthest,
    };
  });
  const fresh = to.sections.flatMap((section, index): SectionReview[] =>
    matched.has(index)
      ? []
      : [
          {
            name: section.name,
            state: 'new',
            isMoved: false,
            uses: [],
            pointsBefore: 0,
            pointsAfter: createSectionMesh(to, index).pointCount,
            farthest: 0,
          },
        ],
  );
  return [...reviewed, ...fresh];
}

function listUses(document: AuthoredDocument, name: string): string[] {
  const garments = listGarments(document).filter(({ sectionName, renders }) =>
    [sectionName, ...renders.map((render) => render.sectionName)].includes(name),
  );
  const steps = listSteps(document).filter(({ sectionName }) => sectionName === name).length;
  return [
    ...garments.map((garment) => garment.name),
    ...(steps > 0 ? [steps === 1 ? '1 step' : `${steps} steps`] : []),
  ];
}

function measureFarthest(from: Character, before: number, to: Character, after: number): number {
  const old = createSectionMesh(from, before);
  if (old.faces.length === 0) return 0;
  const index = new SpatialIndex(old.pointPositions.slice(), old.faces);
  const { pointPositions: positions } = createSectionMesh(to, after);
  let farthest = 0;
  for (let i = 0; i < positions.length; i += 3)
    farthest = Math.max(
      farthest,
      index.findClosest(positions[i]!, positions[i + 1]!, positions[i + 2]!)!.distance,
    );
  return farthest;
}
