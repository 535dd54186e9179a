import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect } from 'chai';
import { type AuthoredDocument, findChannel, listGarments } from '../core/document/index.ts';
import { createUvMesh, fitTop, UvError, writeMapImage } from '../core/reach/index.ts';
import type { Character } from '../core/rig/index.ts';
import { readCharacter } from '../formats/index.ts';
import { findProjectRoot } from '../server/project-root.ts';
import { getFaultyDeliveryFile, getFerryPilotFile, getLamplighterFile } from '../server/seed-demo.ts';
import { createLamplighterDocument, createPilotDocument } from './demo-documents.ts';

describe('maps of the demo garments as images', () => {
  const cache = join(findProjectRoot(), '.cobweb', 'cache');
  const read = async (file: string): Promise<Character> =>
    (await readCharacter([{ name: 'demo.glb', bytes: readFileSync(file) }])).character;

  const cases: [string, () => Promise<Character>, (character: Character) => AuthoredDocument][] = [
    ['the Ferry pilot', async () => read(await getFerryPilotFile(cache)), createPilotDocument],
    ['the Lamplighter', async () => read(await getLamplighterFile(cache)), createLamplighterDocument],
  ];
  for (const [name, open, author] of cases) {
    it(`of ${name} come back within one grey step, two at seams`, async () => {
      const character = await open();
      const document = author(character);
      for (const garment of listGarments(document)) {
        const values = document.arrays.get(findChannel(document, garment.id)!.id)!;
        const mesh = createUvMesh(character.sections[garment.sectionIndex]!);
        for (const [size, depth] of [
          [512, 8],
          [1024, 16],
        ] as const) {
          const high = fitTop('maxDistance', values);
          const { worst, cutOff } = writeMapImage(mesh, values, {
            size,
            depth,
            low: 0,
            high,
            name: garment.name,
          });
          expect(worst.away, `${garment.name}, ${depth} bit`).at.most(1);
          expect(worst.atSeams, `${garment.name}, ${depth} bit, seams`).at.most(2);
          expect(cutOff).equal(0);
        }
      }
    });
  }

  it('of a coat whose inside has its UVs beyond the square are refused, with where they are', async () => {
    const character = await read(await getFaultyDeliveryFile(cache));
    const coat = character.sections.find(({ name }) => name === 'Oilskin coat')!;
    expect(() => createUvMesh(coat))
      .throw(UvError, 'vertices of "Oilskin coat" have UVs outside the square')
      .with.property('vertices')
      .satisfies((vertices: Uint32Array) => vertices.every((vertex) => coat.uvs![2 * vertex]! > 1));
  });
});
