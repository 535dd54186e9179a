import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect } from 'chai';

const css = readFileSync(join(import.meta.dirname, 'global.css'), 'utf8');
const tokens = [...css.matchAll(/--color-([a-z-]+): light-dark\((#[0-9a-f]{6}), (#[0-9a-f]{6})\);/g)];
const themes = ['day', 'dusk'].map(
  (theme, t) => [theme, new Map(tokens.map(([, name, ...values]) => [name!, values[t]!]))] as const,
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
  it('are measured as the standard does', () => {
    expect(measureContrast('#000000', '#ffffff')).closeTo(21, 1e-9);
    expect(measureContrast('#767676', '#ffffff')).closeTo(4.54, 0.01);
  });

  for (const [theme, colors] of themes) {
    const expectContrast = (
      names: readonly string[],
      least: number,
      on = ['surface', 'panel', 'paper'],
    ): void => {
      for (const name of names)
        for (const ground of on)
          expect(measureContrast(colors.get(name)!, colors.get(ground)!), `${name} on ${ground}`).least(
            least,
          );
    };

    it(`can be read as text on every ground (${theme})`, () => {
      expectContrast(['ink', 'soft', 'teal', 'moss', 'marigold-ink', 'brick', 'plum'], 4.5);
      expectContrast(['ink', 'teal-deep'], 4.5, ['teal-wash']);
      expectContrast(['on-accent'], 4.5, ['teal', 'moss', 'brick']);
    });

    it(`show the edges of fields and of what marks a state (${theme})`, () => {
      expectContrast(['edge', 'teal', 'moss', 'marigold', 'brick'], 3);
    });
  }
});
