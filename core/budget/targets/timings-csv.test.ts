import { expect } from 'chai';
import { listTargetGarments, readTimings, writeTimingsTemplate } from './index.ts';

describe('the table of timings', () => {
  const [first, second, third] = listTargetGarments().map(({ spec }) => spec.name);

  /** The template with times filled in, by garment. */
  function fill(times: Readonly<Record<string, string>>): string {
    return writeTimingsTemplate()
      .split('\n')
      .map((row) => {
        const name = row.split(',')[0]!;
        return times[name] === undefined ? row : row.replace(/,,,$/, times[name]!);
      })
      .join('\n');
  }

  it('is read as it was exported and filled in, once or several times a garment', () => {
    const read = readTimings(fill({ [first!]: ',1.5,,', [second!]: ',2,2.25,2.5' }));
    expect([...read]).deep.equal([
      [first, [1.5]],
      [second, [2, 2.25, 2.5]],
    ]);
  });

  it('is read as other programs save it: semicolons, commas in numbers, quotes, a mark of order, lines of another system', () => {
    const text = `\uFEFF"Garment";ms_1;ms_2\r\n"${first}";"0,75";1\r\n${second};;\r\n\r\n${third};2.5e-1;\r\n`;
    expect([...readTimings(text)]).deep.equal([
      [first, [0.75, 1]],
      [third, [0.25]],
    ]);
    expect([...readTimings(`garment\tms_3\n${first}\t4\n`)]).deep.equal([[first, [4]]]);
  });

  it('says what is wrong with it, and where', () => {
    const head = 'garment,ms_1\n';
    for (const [text, message] of [
      ['', 'no column “garment”'],
      ['PK\u0003\u0004', 'no column “garment”'],
      ['garment,time\na,1\n', 'none of the columns ms_1'],
      [writeTimingsTemplate(), 'No time is filled in'],
      [`${head}${first},fast\n`, `Row 2, ${first}, ms_1: “fast” is no number`],
      [`${head}${first},1\n${second},-1\n`, `Row 3, ${second}, ms_1: -1 ms cannot be`],
      [`${head}${first},1e9\n`, 'cannot be'],
      [`${head}nobody,1\n`, 'Row 2: there is no calibration garment “nobody”'],
      [`${head}${first},1\n${first},2\n`, 'is there twice'],
    ] as const)
      expect(() => readTimings(text), text).throw(message);
  });
});
