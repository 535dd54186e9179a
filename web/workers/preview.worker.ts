import { adoptRig, adoptSections, computeClipTravel } from '../../core/rig/index.ts';
import {
  type CharacterRun,
  FRAME_RATE,
  NO_RUN_TIMES,
  type RunWork,
  stepTogether,
} from '../../core/run/index.ts';
import { ContactRows } from './contact-rows.ts';
import { createFrameHelpers } from './create-frame-helpers.ts';
import { FrameCosts } from './frame-costs.ts';
import {
  CONTACT,
  FRAME_HEAD,
  FRAME_SLOTS,
  type FrameLayout,
  getFrameOffset,
  HEADER,
  MOST_CONTACTS,
  type PreviewReply,
  type PreviewRequest,
} from './preview-protocol.ts';
import { PreviewRun } from './preview-run.ts';

/**
 * Owns the live run: advances it on its own clock, 60 frames a second, and writes every finished frame into shared
 * memory. The page never waits for it, nor it for the page.
 */
const FRAME_MS = 1000 / FRAME_RATE;
/** After a pause (a hidden tab, a busy machine) at most so many frames are made up at once. */
const MOST_CATCH_UP = 4;
const STATS_EVERY_MS = 500;
/** Levels of detail that are held are brought to the last edit so often at most. */
const HELD_EVERY_MS = 300;

class PreviewLoop {
  /** One for each side; the first tells the pose and the time. */
  #previews: PreviewRun[] = [];
  #header: Int32Array = new Int32Array(0);
  #floats: Float32Array = new Float32Array(0);
  #layout: FrameLayout | null = null;
  readonly #helpers = createFrameHelpers();
  #isPlaying = true;
  #speed = 1;
  #pace = 1;
  #next = 0;
  #recent: number[] = [];
  #statsAt = 0;
  #heldAt = 0;
  #skippedFrames = 0;
  readonly #costs = new FrameCosts();
  #work: RunWork | null = null;
  /** Null: nobody asks where cloth lies on bodies. */
  #contacts: ContactRows | null = null;

  handle(request: PreviewRequest): void {
    switch (request.kind) {
      case 'load': {
        const { character } = request;
        const options = { clock: () => performance.now(), helpers: this.#helpers };
        this.#previews = request.patches.map((patch) => new PreviewRun(character, patch, options));
        this.#forEachRun((run) => {
          run.play(request.clip);
          run.reset();
        });
        this.#share();
        this.#next = performance.now();
        this.#tick();
        break;
      }
      case 'patch': {
        // Painted values change what a frame takes little; anything else may change it much.
        if (request.patch.records.length > 0 || request.sections) this.#costs.clear();
        const preview = this.#previews[request.side];
        const character =
          request.sections &&
          preview &&
          adoptSections(adoptRig(preview.character, request.rig), request.sections);
        if (request.compiled) preview?.adoptCompiled(request.compiled);
        if (preview?.apply(request.patch, character)) this.#share();
        else if (character) this.#refreshWhenStill();
        break;
      }
      case 'play':
        this.#isPlaying = request.isPlaying;
        this.#speed = request.speed;
        this.#pace = request.pace;
        this.#next = performance.now();
        break;
      case 'step':
        this.#advance();
        break;
      case 'clip':
        this.#forEachRun((run) => run.blendTo(request.clip, this.#isPlaying ? request.blendSeconds : 0));
        this.#refreshWhenStill();
        break;
      case 'turn':
        for (const preview of this.#previews) preview.setTurns(request.turns);
        this.#refreshWhenStill();
        break;
      case 'drape':
        for (const preview of this.#previews) preview.drape(request.garmentId);
        this.#share();
        break;
      case 'seek':
        this.#forEachRun((run) => run.seek(request.time));
        this.#refreshWhenStill();
        break;
      case 'grip':
        this.#forEachRun((run) => run.find(request.garmentId)?.takeGrip(request.point));
        break;
      case 'pull':
        this.#forEachRun((run) => run.find(request.garmentId)?.moveGrip(request.position));
        break;
      case 'hold':
        for (const preview of this.#previews) preview.hold(request.pixels);
        this.#costs.clear();
        this.#share();
        break;
      case 'contacts':
        this.#contacts = request.isOn
          ? (this.#contacts ?? new ContactRows((ids) => reply({ kind: 'bodies', ids })))
          : null;
        this.#refreshWhenStill();
        break;
      case 'reset':
        this.#forEachRun((run) => run.reset());
        this.#refreshWhenStill();
        break;
    }
  }

  #forEachRun(act: (run: CharacterRun) => void): void {
    for (const { run } of this.#previews) act(run);
  }

  /** While everything stands still, a change of pose must be shown all the same. */
  #refreshWhenStill(): void {
    if (this.#pace === 0 && this.#layout) this.#writeFrame();
  }

  #tick = (): void => {
    const now = performance.now();
    if (now - this.#next > MOST_CATCH_UP * FRAME_MS) {
      if (this.#pace > 0) this.#skippedFrames += Math.floor((now - this.#next) / FRAME_MS) - 1;
      this.#next = now - FRAME_MS;
    }
    this.#refreshHeld(now);
    const frameMs = this.#pace > 0 ? FRAME_MS / this.#pace : STATS_EVERY_MS;
    while (this.#next <= now) {
      if (this.#pace > 0) this.#advance();
      this.#next += frameMs;
    }
    if (now - this.#statsAt >= STATS_EVERY_MS) this.#sendStats(now);
    setTimeout(this.#tick, Math.max(0, this.#next - performance.now()));
  };

  /** What is held follows edits some time after them. */
  #refreshHeld(now: number): void {
    if (now - this.#heldAt < HELD_EVERY_MS) return;
    this.#heldAt = now;
    if (this.#previews.filter((preview) => preview.refreshHeld()).length > 0) this.#share();
  }

  #advance(): void {
    const runs = this.#previews.map(({ run }) => run);
    stepTogether(runs, this.#isPlaying ? this.#speed : 0, this.#helpers);
    this.#writeFrame();
    this.#costs.add(performance.now(), this.#previews[0]!.run.takeTimes().total);
    this.#recent.push(performance.now());
    while (this.#recent[0]! < this.#recent[this.#recent.length - 1]! - 1000) this.#recent.shift();
  }

  #writeFrame(): void {
    const { run } = this.#previews[0]!;
    const layout = this.#layout!;
    const slot = (Atomics.load(this.#header, HEADER.newest) + 1) % FRAME_SLOTS;
    const start = getFrameOffset(layout, slot);
    const floats = this.#floats;
    floats[start + FRAME_HEAD.time] = run.time;
    const base = start + FRAME_HEAD.length;
    floats.set(run.pose.worldMatrices, base + layout.nodes);
    layout.skins.forEach((offset, skin) => {
      floats.set(run.skinMatrices[skin]!, base + offset);
    });
    layout.morphs.forEach((offset, section) => {
      floats.set(run.pose.morphWeights[section]!, base + offset);
    });
    layout.garments.forEach((garment) => {
      const side = this.#previews[garment.side]!.run;
      const index = side.garments.findIndex(({ setup }) => setup.id === garment.id);
      const at = (offset: number, length: number): Float32Array =>
        floats.subarray(base + offset, base + offset + length);
      side.writeVertices(
        index,
        at(garment.positions, 3 * garment.vertexCount),
        at(garment.normals, 3 * garment.vertexCount),
      );
      side.garments[index]!.writeTargets(at(garment.targets, 4 * garment.pointCount));
      garment.renders.forEach((render, r) => {
        const positions = at(render.positions, 3 * render.vertexCount);
        side.writeRender(index, r, positions, at(render.normals, 3 * render.vertexCount));
      });
    });
    this.#writeContacts(base + layout.contacts);
    Atomics.store(this.#header, HEADER.clip, run.clip ?? -1);
    Atomics.store(this.#header, HEADER.newest, slot);
    Atomics.add(this.#header, HEADER.count, 1);
  }

  #writeContacts(at: number): void {
    const rows = this.#floats.subarray(at, at + 1 + CONTACT.length * MOST_CONTACTS);
    if (this.#contacts) this.#contacts.write(this.#previews[0]!.run, rows);
    else rows[0] = 0;
  }

  /** Makes a shared block for the present garments and tells the page. */
  #share(): void {
    const layout = layOut(this.#previews);
    const buffer = new SharedArrayBuffer(4 * getFrameOffset(layout, FRAME_SLOTS));
    this.#layout = layout;
    this.#header = new Int32Array(buffer, 0, HEADER.length);
    this.#floats = new Float32Array(buffer);
    this.#writeFrame();
    const { character } = this.#previews[0]!;
    const travels = character.clips.map((clip) => computeClipTravel(character, clip));
    reply({ kind: 'frames', buffer, layout, travels });
  }

  #sendStats(now: number): void {
    const { run } = this.#previews[0]!;
    this.#statsAt = now;
    const costs = this.#costs.summarise();
    const work = run.takeWork();
    if (work.frames > 0) this.#work = work;
    reply({
      kind: 'stats',
      stats: {
        times: costs?.parts ?? NO_RUN_TIMES,
        work: this.#work,
        quickAndSlow: costs ? [costs.quick, costs.slow] : [0, 0],
        garments: run.garments.map((_, index) => ({
          id: run.garments[index]!.setup.id,
          heldBend: run.garments[index]!.solver.heldBend,
          heldStretch: run.garments[index]!.solver.heldStretch,
          spacing: run.garments[index]!.setup.compiled.spacing,
        })),
        framesPerSecond: this.#recent.length,
        cores: 1 + (this.#helpers?.readyCount ?? 0),
        skippedFrames: this.#skippedFrames,
        recoveredFrames: run.garments.reduce((sum, garment) => sum + garment.solver.recoveredFrames, 0),
      },
    });
    this.#skippedFrames = 0;
  }
}

function layOut(previews: readonly PreviewRun[]): FrameLayout {
  const { character } = previews[0]!;
  let size = 16 * character.skeleton.names.length;
  const take = (floats: number): number => {
    const at = size;
    size += floats;
    return at;
  };
  const skins = character.skins.map((skin) => take(16 * skin.joints.length));
  const morphs = character.sections.map((section) => take(section.morphs.length));
  const garments = previews.flatMap(({ run }, side) =>
    run.garments.map(({ setup }) => {
      const { sectionIndex, pointCount, pointOfVertex } = setup.compiled;
      const vertexCount = pointOfVertex.length;
      return {
        id: setup.id,
        side,
        sectionIndex,
        vertexCount,
        pointCount,
        positions: take(3 * vertexCount),
        normals: take(3 * vertexCount),
        targets: take(4 * pointCount),
        renders: (setup.renders ?? []).map((render) => ({
          sectionIndex: render.sectionIndex,
          vertexCount: render.vertexCount,
          positions: take(3 * render.vertexCount),
          normals: take(3 * render.vertexCount),
        })),
      };
    }),
  );
  const contacts = take(1 + CONTACT.length * MOST_CONTACTS);
  const levelSections = previews[0]!.run.character.sections.slice(character.sections.length);
  return { nodes: 0, skins, morphs, garments, contacts, levelSections, size };
}

function reply(message: PreviewReply): void {
  postMessage(message);
}

const loop = new PreviewLoop();
addEventListener('message', ({ data }: MessageEvent<PreviewRequest>) => {
  try {
    loop.handle(data);
  } catch (error) {
    reply({ kind: 'failed', message: error instanceof Error ? error.message : String(error) });
  }
});
