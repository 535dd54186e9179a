import type { Character } from '../core/rig/index.ts';
import { getGltfIo, writeCharacter } from '../formats/index.ts';
import { createFaultyDelivery } from './faulty-delivery.ts';
import { createFerryPilot } from './ferry-pilot.ts';

/** The Ferry pilot as a GLB, ready to be brought in like any user's file. */
export async function writeFerryPilot(): Promise<Uint8Array> {
  return (await getGltfIo()).writeBinary(writeCharacter(await createFerryPilot()));
}

/** The pilot with a coat full of faults, as a hurried export delivers it. */
export async function writeFaultyDelivery(pilot: Character): Promise<Uint8Array> {
  return (await getGltfIo()).writeBinary(writeCharacter(createFaultyDelivery(pilot)));
}

export { createFaultyDelivery } from './faulty-delivery.ts';
export { createFerryPilot } from './ferry-pilot.ts';
export { createPilotDocument } from './pilot-document.ts';
