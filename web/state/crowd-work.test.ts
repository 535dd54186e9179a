import { expect } from 'chai';
import { CROWD_DEFAULTS, type CrowdSettings } from '../../core/crowd/index.ts';
import type { ProjectCrowd } from '../wire/levels.ts';
import { CrowdWork } from './crowd-work.ts';

const CROWD: ProjectCrowd = {
  projectName: 'Test',
  settings: CROWD_DEFAULTS,
  target: { name: 'This machine', cores: 1, budget: 2 },
  members: [
    {
      id: '11111111-1111-4111-8111-111111111111',
      name: 'Pilot',
      height: 1.8,
      bands: [
        { from: 400, cost: 1, switchCost: null },
        { from: 0, cost: 0.25, switchCost: 1.2 },
      ],
      measuredAt: '2026-01-01T00:00:00.000Z',
      isOld: false,
    },
  ],
  unmeasured: [],
};

describe('the crowd of a project, in a page', () => {
  const realFetch = globalThis.fetch;
  let kept: CrowdSettings[];

  beforeEach(() => {
    kept = [];
    globalThis.fetch = async (_, init) => {
      if (init?.method === 'PATCH') {
        kept.push((JSON.parse(String(init.body)) as { crowd: CrowdSettings }).crowd);
        return Response.json({ ok: true });
      }
      return Response.json(CROWD);
    };
  });

  afterEach(() => {
    globalThis.fetch = realFetch;
  });

  async function open(): Promise<CrowdWork> {
    const work = new CrowdWork('p');
    await work.load();
    return work;
  }

  it('is planned at once and kept once, after the last of several edits', async () => {
    const work = await open();
    const [member] = CROWD.members;
    work.addGroup(member!);
    work.setGroup(0, { count: 2, near: 1, far: 1 });
    expect(work.plan()).include({ count: 2, cost: 2, isWithin: true });
    work.setGroup(0, { count: 3 });
    expect(work.plan()).include({ cost: 3, isWithin: false });
    // Twice as many pixels: what was far is near.
    work.setGroup(0, { near: 6, far: 6 });
    expect(work.plan()!.cost).equal(0.75);
    work.setCamera({ screenHeight: 2160 });
    expect(work.plan()!.cost).equal(3);
    await work.keep();
    await work.keep();
    expect(kept).length(1);
    expect(kept[0]).deep.equal(work.store.state.crowd!.settings);
    work.removeGroup(0);
    await work.keep();
    expect(kept[1]!.groups).deep.equal([]);
  });

  it('has groups that end no nearer than they begin, whichever end is typed', async () => {
    const work = await open();
    work.addGroup(CROWD.members[0]!);
    work.setGroup(0, { near: 30 });
    expect(work.store.state.crowd!.settings.groups[0]).include({ near: 30, far: 30 });
    work.setGroup(0, { far: 4 });
    expect(work.store.state.crowd!.settings.groups[0]).include({ near: 4, far: 4 });
    await work.keep();
  });

  it('says why it could not be kept, and keeps what was typed on the screen', async () => {
    const work = await open();
    globalThis.fetch = async () =>
      Response.json({ error: { message: 'There is no such project.' } }, { status: 404 });
    work.setCamera({ screenHeight: 720 });
    await work.keep();
    expect(work.store.state.failure).contain('no such project');
    expect(work.store.state.crowd!.settings.camera.screenHeight).equal(720);
  });
});
