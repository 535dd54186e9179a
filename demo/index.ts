import type { Character } from '../core/rig/index.ts';
import { getGltfIo, writeCharacter } from '../formats/index.ts';
import { createFaultyDelivery } from './faulty-delivery.ts';
import { createFerryPilot } from './ferry-pilot.ts';
import { createLamplighter } from './lamplighter.ts';
import { paintCloths } from './textures/index.ts';

function dress(character: Character): ReturnType<typeof writeCharacter> {
  return writeCharacter(character, paintCloths(character.sections.map(({ materialName }) => materialName)));
}

/** The Ferry pilot as a GLB, ready to be brought in like any user's file. */
export async function writeFerryPilot(): Promise<Uint8Array> {
  return (await getGltfIo()).writeBinary(dress(await createFerryPilot()));
}

/** The pilot with a coat full of faults, as a hurried export delivers it. */
export async function writeFaultyDelivery(pilot: Character): Promise<Uint8Array> {
  return (await getGltfIo()).writeBinary(dress(createFaultyDelivery(pilot)));
}

/** The Lamplighter, on the figure of the pilot. */
export async function writeLamplighter(pilot: Character): Promise<Uint8Array> {
  return (await getGltfIo()).writeBinary(dress(await createLamplighter(pilot)));
}

export { createLamplighterDocument, createPilotDocument } from './demo-documents.ts';
export { createFaultyDelivery } from './faulty-delivery.ts';
export { createFerryPilot } from './ferry-pilot.ts';
export { createLamplighter } from './lamplighter.ts';
