import { expect } from 'chai';
import { FABRIC_DEFAULTS, FABRIC_RANGES } from '../../core/cloth/index.ts';
import { copyFabric, readCopiedFabric } from './fabric-clipboard.ts';

describe('copied fabrics', () => {
  const kept = new Map<string, string>();
  const before = Object.getOwnPropertyDescriptor(globalThis, 'localStorage');
  beforeEach(() => {
    kept.clear();
    Object.defineProperty(globalThis, 'localStorage', {
      configurable: true,
      value: {
        getItem: (key: string) => kept.get(key) ?? null,
        setItem: (key: string, value: string) => void kept.set(key, value),
      },
    });
  });
  after(() => {
    if (before) Object.defineProperty(globalThis, 'localStorage', before);
    else Reflect.deleteProperty(globalThis, 'localStorage');
  });

  it('come back as they were, without what else the record holds', () => {
    const fabric = {
      id: 'f',
      type: 'fabric',
      name: 'Felt',
      settings: { ...FABRIC_DEFAULTS, friction: 0.77 },
    };
    copyFabric(fabric);
    expect(readCopiedFabric()).deep.equal({ name: 'Felt', settings: fabric.settings });
  });

  it('are none when nothing was copied, or something that cannot be read', () => {
    expect(readCopiedFabric()).equal(null);
    for (const text of ['', '{', '17', '"x"', '{"name":"a"}', 'null']) {
      kept.set('fabric-clipboard', text);
      expect(readCopiedFabric(), text).equal(null);
    }
  });

  it('are brought within their ranges, whoever wrote them', () => {
    kept.set(
      'fabric-clipboard',
      JSON.stringify({ name: 'x', settings: { density: -4, substeps: 2.6, friction: 'a' } }),
    );
    const { settings } = readCopiedFabric()!;
    expect(settings.density).equal(FABRIC_RANGES.density[0]);
    expect(settings.substeps).equal(3);
    expect(settings.friction).equal(FABRIC_DEFAULTS.friction);
  });
});
