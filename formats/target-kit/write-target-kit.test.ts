import { expect } from 'chai';
import { strFromU8, unzipSync } from 'fflate';
import { countTargetWork, listTargetGarments, nameGarmentFile, sumCounts } from '../../core/budget/index.ts';
import { priceWork, REFERENCE_PRICING } from '../../core/cost/index.ts';
import { setUpRun, startRun } from '../../core/run/index.ts';
import { validateGlb } from '../gltf/validate-glb.ts';
import { readCharacter } from '../read-character.ts';
import { writeTargetKit } from './write-target-kit.ts';

describe('calibration garments for another machine', function () {
  this.timeout(120_000);
  const garments = listTargetGarments();
  let files: Record<string, Uint8Array>;

  before(async () => {
    const kit = await writeTargetKit();
    files = unzipSync(kit);
    // Under 8 MB, and the same each time.
    expect(kit.length).below(8e6);
    expect(Buffer.from(await writeTargetKit()).equals(Buffer.from(kit))).equal(true);
  });

  it('come with a table to fill in and a guide that names it', () => {
    const names = garments.map((garment, index) => nameGarmentFile(index, garment));
    expect(Object.keys(files).sort()).deep.equal(['README.txt', 'timings.csv', ...names].sort());
    const [head, ...rows] = strFromU8(files['timings.csv']!).trim().split('\n');
    expect(head).match(/^garment,file,.*,ms_1,ms_2,ms_3$/);
    expect(rows.map((row) => row.split(',')[1])).deep.equal(names);
    expect(strFromU8(files['README.txt']!)).contain('timings.csv').and.contain('60 frames a second');
  });

  it('are files that a validator accepts, and do the work that the fit counts', async () => {
    const counting = countTargetWork(garments);
    let step = counting.next();
    while (!step.done) step = counting.next();
    const counted = step.value;
    for (const [g, garment] of garments.entries()) {
      const name = nameGarmentFile(g, garment);
      const bytes = files[name]!;
      expect((await validateGlb(bytes)).errors, name).equal(0);
      const { character, authored } = await readCharacter([{ name: 'garment.glb', bytes }]);
      const run = startRun(setUpRun(authored!, character));
      run.play(0);
      run.reset();
      for (let frame = 0; frame < 60; frame++) run.step();
      run.takeWork();
      for (let frame = 0; frame < 60; frame++) run.step();
      const work = run.takeWork();
      const [own, wanted] = [sumCounts(work), sumCounts(counted[g]!)];
      for (const [key, share] of [
        // Edges are laid into rows of four, which digits that a file rounds may lay otherwise.
        ['edges', 0.08],
        ['vertices', 0.001],
        ['bindings', 0.001],
        ['drawnVertices', 0.001],
        ['airTriangles', 0.02],
        ['bodies', 0.001],
      ] as const)
        expect(own[key], `${name}: ${key}`).closeTo(wanted[key], share * wanted[key]);
      const [price, before] = [work, counted[g]!].map((each) => priceWork(each, REFERENCE_PRICING).total);
      expect(price, name).closeTo(before!, 0.06 * before!);
    }
  });
});
