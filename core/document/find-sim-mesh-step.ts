import { isSimMeshStep } from '../steps/index.ts';
import { type AuthoredDocument, listSteps } from './document.ts';
import type { GarmentRecord, StepRecord } from './records/index.ts';

/** The step that made what a garment is simulated on; null when it is simulated as it is drawn. */
export function findSimMeshStep(
  document: Pick<AuthoredDocument, 'records'>,
  garment: Pick<GarmentRecord, 'sectionName' | 'renders'>,
): StepRecord | null {
  const [drawn] = garment.renders;
  if (!drawn) return null;
  const isItsOwn = ({ act, sectionName }: StepRecord): boolean =>
    isSimMeshStep(act) && sectionName === (act.kind === 'useAsSimMesh' ? garment : drawn).sectionName;
  return listSteps(document).find(isItsOwn) ?? null;
}
