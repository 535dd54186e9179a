import { toPricing } from '../../core/cost/index.ts';
import { type CrowdCamera, createMember, tellSizes } from '../../core/crowd/index.ts';
import { type AuthoredDocument, listGarments } from '../../core/document/index.ts';
import {
  type BandFigures,
  type LevelBand,
  listBands,
  measureHeight,
  proposeLevels,
} from '../../core/levels/index.ts';
import type { TrialCase } from '../../core/trials/index.ts';
import { createSubject, WorkPool } from '../../server/work/work-pool.ts';
import type { Subject } from '../with-subject.ts';

/** Every size on the screen at which garments are at other levels, measured. */
export interface MeasuredLevels {
  bands: readonly LevelBand[];
  figures: readonly BandFigures[];
  /** The document with the levels that were measured. */
  document: AuthoredDocument;
  /** None was authored: they are those that are proposed. */
  areProposed: boolean;
}

/** Measures the levels of a character, those that are proposed when it has none. */
export async function measureLevels(
  { character, document: authored, target }: Pick<Subject, 'character' | 'document' | 'target'>,
  cases: readonly TrialCase[],
  threads: number,
): Promise<MeasuredLevels> {
  const areProposed = listGarments(authored).every(({ levels }) => levels.length === 0);
  const document = { ...authored, records: new Map(authored.records) };
  if (areProposed)
    for (const garment of listGarments(authored))
      document.records.set(garment.id, { ...garment, levels: proposeLevels(character, authored, garment) });
  const bands = listBands(listGarments(document));
  const pool = new WorkPool(Math.min(threads, bands.length));
  const subject = createSubject(character, document);
  const pricing = toPricing(target);
  try {
    const figures = await Promise.all(
      bands.map((_, band) => pool.run(subject, 'measureBand', { cases, band, pricing })),
    );
    return { bands, figures, document, areProposed };
  } finally {
    await pool.close();
  }
}

/** A size, as it is printed as JSON. */
export interface PrintedSize {
  fromPixels: number;
  /** Null: without end. */
  toMetres: number | null;
  costMicroseconds: number;
  /** While it comes from the size above; null of the nearest. */
  switchMicroseconds: number | null;
  /** So many of it fit the budget; null: any number. */
  fits: number | null;
}

/** What each size costs, at which distance it is, and how many fit. @param budget - ms. */
export function printSizes(
  { bands, figures }: MeasuredLevels,
  { character, target }: Pick<Subject, 'character' | 'target'>,
  camera: CrowdCamera,
  budget: number,
): PrintedSize[] {
  const who = { id: 'character', name: character.name, height: measureHeight(character) };
  const member = createMember(who, bands, figures);
  const sizes = tellSizes(member, camera, { budget, cores: target.cores });
  return sizes.map(({ from, toMetres, cost, switchCost, fits }) => ({
    fromPixels: from,
    toMetres,
    costMicroseconds: Math.round(1000 * cost),
    switchMicroseconds: switchCost === null ? null : Math.round(1000 * switchCost),
    fits,
  }));
}

/** What each level of a garment costs, from near to far. */
export function tellGarmentLevels(
  { bands, figures, document }: MeasuredLevels,
  garmentId: string,
): { pixels: number; costMicroseconds: number }[] {
  const garment = listGarments(document).find(({ id }) => id === garmentId);
  return (garment?.levels ?? []).map((level) => {
    const band = bands.findIndex(({ levels }) => levels.get(garment!.id) === level);
    const cost = figures[band]?.garments.find((each) => each.garmentId === garmentId)?.cost.mean ?? 0;
    return { pixels: level.pixels, costMicroseconds: Math.round(1000 * cost) };
  });
}
