import { zlibSync } from 'fflate';
import { computeCheckSum } from './open-png.ts';

export interface TestPng {
  width: number;
  height: number;
  depth: 1 | 2 | 4 | 8 | 16;
  /** 0 grey, 2 RGB, 3 palette, 4 grey with alpha, 6 RGB with alpha. */
  kind: 0 | 2 | 3 | 4 | 6;
  isInterlaced: boolean;
  /** Level of a sample, 0 to 2^depth - 1. */
  sample(x: number, y: number, part: number): number;
  /** RGB, 0 to 255. */
  palette?: number[];
  alphas?: number[];
  /** Filter of the nth row that is written. */
  filter(row: number): number;
}

export const PNG_PARTS = { 0: 1, 2: 3, 3: 1, 4: 2, 6: 4 } as const;

const ADAM7 = [
  [0, 0, 8, 8],
  [4, 0, 8, 8],
  [0, 4, 4, 8],
  [2, 0, 4, 4],
  [0, 2, 2, 4],
  [1, 0, 2, 2],
  [0, 1, 1, 2],
] as const;

/** A PNG of any form, rows of any filter, in several pieces. */
export function packTestPng(png: TestPng): Uint8Array {
  const header = new Uint8Array(13);
  const view = new DataView(header.buffer);
  view.setUint32(0, png.width);
  view.setUint32(4, png.height);
  header.set([png.depth, png.kind, 0, 0, png.isInterlaced ? 1 : 0], 8);
  const packed = zlibSync(Uint8Array.from(listRows(png)));
  const half = packed.length >> 1;
  return Uint8Array.from([
    ...[137, 80, 78, 71, 13, 10, 26, 10],
    ...packChunk('IHDR', header),
    ...(png.palette ? packChunk('PLTE', Uint8Array.from(png.palette)) : []),
    ...(png.alphas ? packChunk('tRNS', Uint8Array.from(png.alphas)) : []),
    ...packChunk('IDAT', packed.subarray(0, half)),
    ...packChunk('IDAT', packed.subarray(half)),
    ...packChunk('IEND', new Uint8Array(0)),
  ]);
}

function packChunk(type: string, data: Uint8Array): number[] {
  const body = [...new TextEncoder().encode(type), ...data];
  return [...toBytes(data.length), ...body, ...toBytes(computeCheckSum(Uint8Array.from(body)))];
}

function toBytes(value: number): number[] {
  return [24, 16, 8, 0].map((shift) => (value >>> shift) & 255);
}

function listRows(png: TestPng): number[] {
  const parts = PNG_PARTS[png.kind];
  const step = Math.max(1, (png.depth * parts) >> 3);
  const bytes: number[] = [];
  let written = 0;
  for (const [x0, y0, across, down] of png.isInterlaced ? ADAM7 : ([[0, 0, 1, 1]] as const)) {
    let before: number[] = [];
    for (let y = y0; y < png.height && x0 < png.width; y += down) {
      const bits: number[] = [];
      for (let x = x0; x < png.width; x += across)
        for (let part = 0; part < parts; part++)
          for (let bit = png.depth - 1; bit >= 0; bit--) bits.push((png.sample(x, y, part) >> bit) & 1);
      const row = Array.from({ length: Math.ceil(bits.length / 8) }, (_, i) =>
        Array.from({ length: 8 }, (_, k) => bits[8 * i + k] ?? 0).reduce((sum, bit) => 2 * sum + bit, 0),
      );
      const filter = png.filter(written++);
      bytes.push(filter, ...row.map((value, i) => (value - guess(filter, row, before, i, step)) & 255));
      before = row;
    }
  }
  return bytes;
}

/** What a filter takes from a byte, in the words of the standard. */
function guess(filter: number, row: number[], before: number[], i: number, step: number): number {
  const [a, b, c] = [row[i - step] ?? 0, before[i] ?? 0, before[i - step] ?? 0];
  if (filter === 4) {
    const p = a + b - c;
    return [a, b, c].reduce((best, one) => (Math.abs(p - one) < Math.abs(p - best) ? one : best));
  }
  return [0, a, b, (a + b) >> 1][filter]!;
}
