import { expect } from 'chai';
import fc from 'fast-check';
import type { Track } from './character.ts';
import { sampleTrack } from './sample-track.ts';

function sample(track: Partial<Track>, time: number, width: number): number[] {
  const out = new Float64Array(width);
  sampleTrack(
    {
      node: 0,
      path: 'translation',
      interpolation: 'LINEAR',
      times: new Float32Array(),
      values: new Float32Array(),
      ...track,
    },
    time,
    width,
    out,
    0,
  );
  return [...out];
}

const floats = (...values: number[]): Float32Array => Float32Array.from(values);

describe('sampling of tracks by the rules of glTF', () => {
  const line: Partial<Track> = { times: floats(1, 2, 4), values: floats(0, 10, 30) };

  it('holds the first and last key outside of them', () => {
    expect(sample(line, 0, 1)).deep.equal([0]);
    expect(sample(line, 9, 1)).deep.equal([30]);
  });

  it('blends evenly between keys, and steps keep the key before', () => {
    expect(sample(line, 3, 1)[0]).closeTo(20, 1e-9);
    expect(sample({ ...line, interpolation: 'STEP' }, 3.999, 1)).deep.equal([10]);
    expect(sample({ ...line, interpolation: 'STEP' }, 2, 1)).deep.equal([10]);
  });

  it('follows any cubic exactly when tangents are its slopes', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: -2, max: 2, noNaN: true }), { minLength: 4, maxLength: 4 }),
        fc.double({ min: 0.5, max: 3, noNaN: true }),
        (c, time) => {
          const value = (t: number): number => c[0]! + c[1]! * t + c[2]! * t * t + c[3]! * t ** 3;
          const slope = (t: number): number => c[1]! + 2 * c[2]! * t + 3 * c[3]! * t * t;
          const times = floats(0.5, 1.25, 3);
          const values = Float32Array.from([...times].flatMap((t) => [slope(t), value(t), slope(t)]));
          expect(sample({ interpolation: 'CUBICSPLINE', times, values }, time, 1)[0]).closeTo(
            value(time),
            2e-4,
          );
        },
      ),
    );
  });

  it('turns along the shorter arc, evenly', () => {
    const about = (degrees: number): number[] => [
      0,
      Math.sin((degrees * Math.PI) / 360),
      0,
      Math.cos((degrees * Math.PI) / 360),
    ];
    // The second key is the same turn of 80° with all signs changed: the long way round if taken literally.
    const track: Partial<Track> = {
      path: 'rotation',
      times: floats(0, 1),
      values: floats(...about(0), ...about(80).map((v) => -v)),
    };
    const [, y, , w] = sample(track, 0.25, 4) as [number, number, number, number];
    expect(Math.abs(y * w - about(20)[1]! * about(20)[3]!)).below(1e-6);
  });

  it('gives unit quaternions for splines of rotations', () => {
    const track: Partial<Track> = {
      path: 'rotation',
      interpolation: 'CUBICSPLINE',
      times: floats(0, 1),
      values: floats(0, 0, 0, 0, 0, 0, 0, 1, 0.5, 0, 0, 0, 0, 0.2, 0, 0, 0.7, 0, 0, 0.7, 0, 0, 0, 0),
    };
    expect(Math.hypot(...sample(track, 0.4, 4))).closeTo(1, 1e-9);
  });
});
