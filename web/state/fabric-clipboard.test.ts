import { expect } from 'chai';
import { FABRIC_DEFAULTS, FABRIC_RANGES } from '../../core/cloth/index.ts';
import { DOCUMENT_VERSION } from '../../core/document/index.ts';
import { copyFabric, readCopiedFabric } from './fabric-clipboard.ts';
import { useLocalStorage } from './test-storage.ts';

describe('copied fabrics', () => {
  const kept = useLocalStorage();

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

  it('are raised from the version that they were copied in', () => {
    const settings = { ...FABRIC_DEFAULTS, linearInertia: 0.3, angularInertia: 0.6, stretchStiffness: 900 };
    for (const key of ['rootMotionShare', 'rootTurnShare', 'stretchWarp', 'stretchWeft', 'shearStiffness'])
      Reflect.deleteProperty(settings, key);
    kept.set('fabric-clipboard', JSON.stringify({ name: 'old', settings }));
    expect(readCopiedFabric()!.settings).include({
      rootMotionShare: 0.3,
      rootTurnShare: 0.6,
      stretchWarp: 900,
      shearStiffness: 450,
    });
    copyFabric({ name: 'new', settings: FABRIC_DEFAULTS });
    expect(JSON.parse(kept.get('fabric-clipboard')!).documentVersion).equal(DOCUMENT_VERSION);
  });

  it('are brought within their ranges, whoever wrote them', () => {
    kept.set(
      'fabric-clipboard',
      JSON.stringify({ name: 'x', settings: { density: -4, substepsPerSecond: 180.6, friction: 'a' } }),
    );
    const { settings } = readCopiedFabric()!;
    expect(settings.density).equal(FABRIC_RANGES.density[0]);
    expect(settings.substepsPerSecond).equal(181);
    expect(settings.friction).equal(FABRIC_DEFAULTS.friction);
  });
});
