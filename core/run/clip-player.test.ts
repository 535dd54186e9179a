import { expect } from 'chai';
import { type Character, createRigidCharacter } from '../rig/index.ts';
import { ClipPlayer } from './clip-player.ts';

/** A point on a joint with clips: [duration, x at the start, x at the end]. */
function createWalker(clips: readonly (readonly [number, number, number])[]): Character {
  const character = createRigidCharacter('dot', new Float32Array(9), Uint32Array.of(0, 1, 2));
  for (const [duration, from, to] of clips) {
    character.clips.push({
      name: `clip ${character.clips.length}`,
      duration,
      tracks: [
        {
          node: 0,
          path: 'translation',
          interpolation: 'LINEAR',
          times: Float32Array.of(0, duration),
          values: Float32Array.of(from, 0, 0, to, 0, 0),
        },
      ],
    });
  }
  return character;
}

function readX(player: ClipPlayer): number {
  player.apply();
  return player.pose.worldMatrices[12]!;
}

describe('a clip player', () => {
  it('goes round, forward and backward, and says when it came round', () => {
    const player = new ClipPlayer(createWalker([[2, 0, 0.04]]));
    player.play(0, 1.5);
    expect(player.advance(0.4)).equal(false);
    expect(player.advance(0.2)).equal(true);
    expect(player.time).closeTo(0.1, 1e-9);
    expect(player.advance(-0.3)).equal(true);
    expect(player.time).closeTo(1.8, 1e-9);
    expect(readX(player)).closeTo(0.036, 1e-6);
  });

  it('takes the travel out of a clip, and stands still in one without length', () => {
    const player = new ClipPlayer(
      createWalker([
        [1, 0, 3],
        [0, 5, 5],
      ]),
    );
    player.play(0, 0);
    expect(player.travel[0]).closeTo(3, 1e-6);
    for (const time of [0, 0.3, 0.9]) {
      player.setTime(time);
      expect(readX(player)).closeTo(0, 1e-6);
    }
    player.play(1, 7);
    expect(player.time).equal(0);
    expect(player.advance(1)).equal(false);
    expect(readX(player)).closeTo(5, 1e-6);
  });

  it('goes over from one clip to another while both play', () => {
    const player = new ClipPlayer(
      createWalker([
        [1, 0, 0],
        [4, 1, 1],
      ]),
    );
    player.play(0, 0.5);
    player.blendTo(1, 2);
    expect([player.clip, player.time]).deep.equal([1, 0]);
    expect(readX(player)).closeTo(0, 1e-6);
    for (const [seconds, share] of [
      [0.5, 0.25],
      [1, 0.75],
      [0.6, 1],
    ] as const) {
      player.advance(seconds);
      expect(readX(player)).closeTo(share, 1e-6);
    }
    // From or to the bind pose: at once.
    player.blendTo(null, 2);
    expect(readX(player)).closeTo(0, 1e-6);
    expect(player.advance(0.1)).equal(false);
    player.blendTo(1, 2);
    expect(readX(player)).closeTo(1, 1e-6);
  });

  it('refuses a clip that is not there and stays where it was', () => {
    const player = new ClipPlayer(createWalker([[1, 0, 0]]));
    player.play(0, 0.5);
    expect(() => player.blendTo(4, 1)).throw(RangeError, 'There is no clip 4');
    expect([player.clip, player.time]).deep.equal([0, 0.5]);
  });
});
