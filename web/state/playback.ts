import type { Character } from '../../core/rig/index.ts';
import type { PreviewClient } from './preview-client.ts';
import type { Session } from './session.ts';
import type { Store } from './store.ts';

/** A change of clip while playing goes over in so long: the cloth is not thrown. */
const CLIP_BLEND_SECONDS = 0.25;

/** Plays, pauses, slows and steps what a page's preview worker simulates. */
export class Playback {
  readonly session: Store<Session>;
  readonly preview: PreviewClient;
  readonly character: Character;

  constructor(session: Store<Session>, preview: PreviewClient, character: Character) {
    this.session = session;
    this.preview = preview;
    this.character = character;
  }

  setClip(clip: number | null): void {
    this.session.set({ clip });
    this.preview.send({ kind: 'clip', clip, blendSeconds: CLIP_BLEND_SECONDS });
  }

  setPlaying(isPlaying: boolean): void {
    this.session.set({ isPlaying });
    this.#send();
  }

  setSpeed(speed: number): void {
    this.session.set({ speed });
    this.#send();
  }

  /** @param pace - Simulated seconds per second; 0 stands still. */
  setPace(pace: number): void {
    this.session.set({ pace });
    this.#send();
  }

  /** One simulated frame; everything stands still afterwards. */
  stepSimulation(): void {
    if (this.session.state.pace !== 0) this.setPace(0);
    this.preview.send({ kind: 'step' });
  }

  seek(time: number): void {
    this.setPlaying(false);
    this.preview.send({ kind: 'seek', time });
  }

  /** A frame of the clip's 30 a second forward or back. */
  stepFrame(frames: number): void {
    const frame = this.preview.readFrame();
    const { clip } = this.session.state;
    if (!frame || clip === null) return;
    const { duration } = this.character.clips[clip]!;
    const time = frame.time + frames / 30;
    this.seek(duration > 0 ? ((time % duration) + duration) % duration : 0);
  }

  #send(): void {
    const { isPlaying, speed, pace } = this.session.state;
    this.preview.send({ kind: 'play', isPlaying, speed, pace });
  }
}
