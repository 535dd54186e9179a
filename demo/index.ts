import type { Character } from '../core/rig/index.ts';
import { getGltfIo, writeCharacter } from '../formats/index.ts';
import { createFaultyDelivery } from './faulty-delivery.ts';
import { createFerryPilot } from './ferry-pilot.ts';
import { createLamplighter } from './lamplighter.ts';
import { paintCharacter } from './textures/index.ts';

async function pack(character: Character): Promise<Uint8Array> {
  const painted = await paintCharacter(character);
  return (await getGltfIo()).writeBinary(writeCharacter(painted.character, painted.pictures));
}

/** The Ferry pilot as a GLB, ready to be brought in like any user's file. */
export async function writeFerryPilot(): Promise<Uint8Array> {
  return pack(await createFerryPilot());
}

/** The pilot with a coat full of faults, as a hurried export delivers it. */
export async function writeFaultyDelivery(pilot: Character): Promise<Uint8Array> {
  return pack(createFaultyDelivery(pilot));
}

/** The Lamplighter, on the figure of the pilot. */
export async function writeLamplighter(pilot: Character): Promise<Uint8Array> {
  return pack(await createLamplighter(pilot));
}

export { createLamplighterDocument, createPilotDocument } from './demo-documents.ts';
export { createFaultyDelivery } from './faulty-delivery.ts';
export { createFerryPilot } from './ferry-pilot.ts';
export { createLamplighter } from './lamplighter.ts';
