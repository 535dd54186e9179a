import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect } from 'chai';

const css = readFileSync(join(import.meta.dirname, 'global.css'), 'utf8');
const tokens = new Map(
  [...css.matchAll(/--color-([a-z-]+): (#[0-9a-f]{6});/g)].map(([, name, value]) => [name!, value!]),
);

/** Relative luminance, 0 to 1, of an sRGB colour. Reference: W3C, *WCAG 2.2*. */
function measureLuminance(hex: string): number {
  const [r, g, b] = [1, 3, 5].map((at) => {
    const share = Number.parseInt(hex.slice(at, at + 2), 16) / 255;
    return share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4;
  }) as [number, number, number];
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}

function measureContrast(one: string, other: string): number {
  const [dark, light] = [measureLuminance(one), measureLuminance(other)].sort((p, q) => p - q) as [
    number,
    number,
  ];
  return (light + 0.05) / (dark + 0.05);
}

describe('the colours of the interface', () => {
  const grounds = ['#ffffff', tokens.get('panel')!, tokens.get('paper')!];

  it('are measured as the standard does', () => {
    expect(measureContrast('#000000', '#ffffff')).closeTo(21, 1e-9);
    expect(measureContrast('#767676', '#ffffff')).closeTo(4.54, 0.01);
  });

  it('can be read as text on every ground', () => {
    for (const name of ['ink', 'soft', 'teal', 'moss', 'marigold-ink', 'brick', 'plum'])
      for (const ground of grounds)
        expect(measureContrast(tokens.get(name)!, ground), `${name} on ${ground}`).least(4.5);
  });

  it('show the edges of fields and of what marks a state', () => {
    for (const name of ['edge', 'teal', 'moss', 'marigold', 'brick'])
      for (const ground of grounds)
        expect(measureContrast(tokens.get(name)!, ground), `${name} on ${ground}`).least(3);
  });
});
