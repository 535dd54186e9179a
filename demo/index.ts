import { getGltfIo, writeCharacter } from '../formats/index.ts';
import { createFerryPilot } from './ferry-pilot.ts';

/** The Ferry pilot as a GLB, ready to be brought in like any user's file. */
export async function writeFerryPilot(): Promise<Uint8Array> {
  return (await getGltfIo()).writeBinary(writeCharacter(await createFerryPilot()));
}

export { createFerryPilot } from './ferry-pilot.ts';
export { createPilotDocument } from './pilot-document.ts';
