import { expect } from 'chai';
import type { RecordId } from '../../core/document/index.ts';
import { collectRows, resolveLimits } from '../../core/trials/index.ts';
import { createFrame } from '../../core/trials/test-frame.ts';
import { reportTrial } from './trial-report.ts';
import { writeJunit } from './write-junit.ts';

describe('the report of a trial', () => {
  const garmentId = 'coat' as RecordId;
  const frames = [0.001, 0.009, 0.002].map((penetration, i) =>
    createFrame(0.1 * (i + 1), [{ garmentId, penetration, cost: 1.5, jitter: i === 1 ? 5e-4 : null }]),
  );
  const rows = collectRows('run & "hide"', frames, new Map([[garmentId, 'Coat <long>\u0007']]));
  const limits = new Map([[garmentId, resolveLimits({ penetration: 0.004 })]]);
  const report = reportTrial([rows, { ...rows, name: 'walk', garments: [] }], limits);

  it('has values in the units that their names say, of what is known', () => {
    const [run] = report.clips;
    expect(run!.worst).include({ penetrationMillimetres: 9, costMicroseconds: 1500, jitterMillimetres: 0.5 });
    expect(run!.mean).include({ penetrationMillimetres: 4, jitterMillimetres: 0.5 });
    expect(run!.worst.scatterMillimetres).equal(null);
    expect(run!.broken).deep.equal([
      { measure: 'penetrationMillimetres', limit: 4, value: 9, time: 0.2, garment: 'Coat <long>\u0007' },
    ]);
    expect(report.clips.map(({ passes }) => passes)).deep.equal([false, true]);
    expect(report.passes).equal(false);
  });

  it('is well-formed XML, whatever clips and garments are called', () => {
    const xml = writeJunit("the pilot's", report, [0.5, 0.25]);
    expect(xml).contain('tests="2" failures="1" errors="0" skipped="0" time="0.750"');
    expect(xml).contain('name="run &amp; &quot;hide&quot;" time="0.500">');
    expect(xml).contain('Coat &lt;long&gt;\uFFFD: penetrationMillimetres 9 over 4 at 0.20 s</failure>');
    expect(xml).contain('name="walk" time="0.250"/>');
    // Every tag that is opened is closed, and no sign stands bare.
    const tags = [...xml.matchAll(/<(\/?)(\w+)[^<>]*?(\/?)>/g)].filter(([, , , own]) => !own);
    expect(tags.filter(([, end]) => end).length).equal(tags.filter(([, end]) => !end).length);
    expect(xml.replace(/<[^<>]*>/g, '')).not.match(/[<>]|&(?!amp;|lt;|gt;|quot;)/);
  });
});
