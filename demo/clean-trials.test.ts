import { expect } from 'chai';
import { type AuthoredDocument, listBodies, listGarments } from '../core/document/index.ts';
import type { Character } from '../core/rig/index.ts';
import { setUpRun } from '../core/run/index.ts';
import { collectRows, judgeRows, resolveAllLimits, runTrial } from '../core/trials/index.ts';
import {
  createFerryPilot,
  createLamplighter,
  createLamplighterDocument,
  createPilotDocument,
} from './index.ts';

/** The budget to begin with, ms a frame, and a little: the pilot's run takes 2.02. */
const BUDGET = 2.05;

describe('the demo characters as a good artist would deliver them', function () {
  this.timeout(240_000);
  let pilot: Character;
  before(async () => {
    pilot = await createFerryPilot();
  });

  /** Plays every clip and holds it against the limits that the document has. */
  const judge = (character: Character, document: AuthoredDocument): void => {
    const names = new Map(listGarments(document).map(({ id, name }) => [id, name]));
    const limits = resolveAllLimits(document);
    const setup = setUpRun(document, character);
    character.clips.forEach(({ name }, clip) => {
      const frames = [...runTrial(setup, { motion: { kind: 'clip', clip } })];
      const breaches = judgeRows(collectRows(name, frames, names), limits);
      expect(
        breaches.map(({ measure, garmentId, value }) => [names.get(garmentId), measure, value]),
        name,
      ).deep.equal([]);
      expect(Math.max(...frames.map(({ penetration }) => penetration)), name).below(0.003);
      const cost = frames.reduce((sum, frame) => sum + frame.cost, 0) / frames.length;
      expect(cost, `cost of ${name}`).within(1, BUDGET);
    });
  };

  it('the pilot keeps its limits and the budget on every clip, with no cloth in the skin', () => {
    const document = createPilotDocument(pilot);
    const garments = listGarments(document);
    expect(garments.map((garment) => garment.name)).deep.equal(['Sash tail', 'Poncho']);
    expect(listBodies(document, garments[0]!.bodySetId).length).within(8, 24);
    judge(pilot, document);
  });

  it('so does the Lamplighter, with four garments over one another', async () => {
    const lamplighter = await createLamplighter(pilot);
    judge(lamplighter, createLamplighterDocument(lamplighter));
  });
});
