import { type AuthoredDocument, findSimMeshStep, type GarmentRecord } from '../document/index.ts';
import type { SimSurfaceSettings } from '../steps/index.ts';

/** Of sim meshes that are made here for the first time. */
const BORDER_DETAIL = 0.5;

/** Of the sim mesh that a garment has, with other edges; or of a new one. */
export function readSimSettings(
  document: Pick<AuthoredDocument, 'records'>,
  garment: Pick<GarmentRecord, 'sectionName' | 'renders'>,
  edgeLength: number,
): SimSurfaceSettings {
  const act = findSimMeshStep(document, garment)?.act;
  if (act?.kind !== 'makeSimMesh') return { edgeLength, borderDetail: BORDER_DETAIL };
  return { edgeLength, borderDetail: act.borderDetail, sides: act.sides };
}
