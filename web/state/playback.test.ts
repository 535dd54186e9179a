import { expect } from 'chai';
import { createRigidCharacter } from '../../core/rig/index.ts';
import type { PreviewRequest } from '../workers/preview-protocol.ts';
import { Playback } from './playback.ts';
import type { PreviewClient } from './preview-client.ts';
import { SESSION_START, type Session } from './session.ts';
import { SidePreview } from './side-preview.ts';
import { Store } from './store.ts';

/** A preview that only notes what it is told, at a time of its clip. */
function createClient(time: number): { client: PreviewClient; sent: PreviewRequest[] } {
  const sent: PreviewRequest[] = [];
  const garment = (side: number) => ({ id: 'g', side });
  const layout = { nodes: 0, skins: [], garments: [garment(0), garment(1)], size: 0 };
  const client = {
    send: (request: PreviewRequest) => sent.push(request),
    readFrame: () => ({ count: 1, clip: 0, time, layout, floats: new Float32Array(0) }),
  };
  return { client: client as unknown as PreviewClient, sent };
}

function createPlayback(time = 0): { playback: Playback; sent: PreviewRequest[]; session: Store<Session> } {
  const { client, sent } = createClient(time);
  const character = createRigidCharacter('dot', new Float32Array(9), Uint32Array.of(0, 1, 2));
  character.clips.push({ name: 'c', duration: 1, tracks: [] });
  const session = new Store<Session>({ ...SESSION_START, clip: 0 });
  return { playback: new Playback(session, client, character), sent, session };
}

describe('playback', () => {
  it('tells the worker speed and pace together, whichever changes', () => {
    const { playback, sent, session } = createPlayback();
    playback.setSpeed(0.5);
    playback.setPace(0.25);
    playback.setPlaying(false);
    expect(sent).deep.equal([
      { kind: 'play', isPlaying: true, speed: 0.5, pace: 1 },
      { kind: 'play', isPlaying: true, speed: 0.5, pace: 0.25 },
      { kind: 'play', isPlaying: false, speed: 0.5, pace: 0.25 },
    ]);
    expect(session.state).include({ speed: 0.5, pace: 0.25, isPlaying: false });
  });

  it('stops everything before it steps a simulated frame, once', () => {
    const { playback, sent } = createPlayback();
    playback.stepSimulation();
    playback.stepSimulation();
    expect(sent.map(({ kind }) => kind)).deep.equal(['play', 'step', 'step']);
    expect(sent[0]).include({ pace: 0 });
  });

  it('steps the clip by thirtieths, round its ends', () => {
    for (const [time, frames, expected] of [
      [0.5, 1, 0.5 + 1 / 30],
      [0.99, 1, 0.99 + 1 / 30 - 1],
      [0.01, -1, 0.01 - 1 / 30 + 1],
    ] as const) {
      const { playback, sent } = createPlayback(time);
      playback.stepFrame(frames);
      const seek = sent.find(({ kind }) => kind === 'seek');
      expect(seek?.kind === 'seek' && seek.time).closeTo(expected, 1e-9);
    }
  });

  it('goes over to another clip instead of cutting', () => {
    const { playback, sent, session } = createPlayback();
    playback.setClip(null);
    expect(sent).deep.equal([{ kind: 'clip', clip: null, blendSeconds: 0.25 }]);
    expect(session.state.clip).equal(null);
  });
});

describe('one side of a preview', () => {
  it('has its own garments only, and the same layout while nothing changes', () => {
    const { client } = createClient(0);
    const [a, b] = [0, 1].map((side) => new SidePreview(client, side)) as [SidePreview, SidePreview];
    expect(a.readFrame()!.layout.garments.map(({ side }) => side)).deep.equal([0]);
    expect(b.readFrame()!.layout.garments.map(({ side }) => side)).deep.equal([1]);
    expect(a.readFrame()!.layout).equal(a.readFrame()!.layout);
  });
});
