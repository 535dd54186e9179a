import { expect } from 'chai';
import type { BodyShape } from '../bodies/index.ts';
import {
  type AuthoredDocument,
  listBodies,
  listGarments,
  listRecords,
  type RecordId,
} from '../document/index.ts';
import { BodyContacts, type RunSetup, setUpRun, startRun } from '../run/index.ts';
import { gatherBodySkin } from '../suggest/index.ts';
import { createScene } from '../trials/test-scene.ts';
import { compareSets } from './compare-sets.ts';
import { COVERED, FARTHEST } from './distances.ts';
import { measureFitFigures, measureSetReach, type SetFit } from './fit-figures.ts';
import { joinUses } from './join-uses.ts';
import { type BodyUse, measureUse } from './measure-use.ts';
import { spreadToVertices } from './spread-to-vertices.ts';

const RADIUS = 0.12;

function finish<T>(work: Generator<unknown, T>): T {
  for (;;) {
    const step = work.next();
    if (step.done) return step.value;
  }
}

/** The ball that is pushed through a sheet, with other bodies on it. */
function dress(shapes: Readonly<Record<string, BodyShape>>): {
  document: AuthoredDocument;
  setup: RunSetup;
  bodySetId: RecordId;
} {
  const { document, setup } = createScene({ hasBody: true });
  const bodySetId = listRecords(document, 'bodySet')[0]!.id;
  const { character } = setup;
  for (const { id } of listBodies(document, bodySetId)) document.records.delete(id);
  for (const [name, shape] of Object.entries(shapes)) {
    const id = name as RecordId;
    document.records.set(id, {
      type: 'body',
      id,
      bodySetId,
      name,
      jointName: 'ball',
      shape,
      margin: 0,
      group: 1,
    });
  }
  return { document, setup: setUpRun(document, character), bodySetId };
}

/** The same with the ball's own skin as a mesh of the set, and no bodies. */
function dressMesh(margin: number): ReturnType<typeof dress> {
  const { document, setup, bodySetId } = dress({});
  const { character } = setup;
  const sectionIndex = character.sections.findIndex(({ name }) => name === 'ball');
  const id = 'skin' as RecordId;
  const place = { sectionIndex, sectionName: 'ball' };
  document.records.set(id, {
    type: 'bodyMesh',
    id,
    bodySetId,
    name: 'Skin',
    stepId: null,
    ...place,
    margin,
    group: 1,
  });
  return { document, setup: setUpRun(document, character), bodySetId };
}

const sphere = (radius: number, a: [number, number, number] = [0, 0, 0]): BodyShape => ({
  kind: 'sphere',
  a,
  b: a,
  radiusA: radius,
  radiusB: radius,
});

function measureFit(
  shapes: Readonly<Record<string, BodyShape>>,
): SetFit & { skin: ReturnType<typeof gatherBodySkin> } {
  const { document, setup, bodySetId } = dress(shapes);
  const skin = gatherBodySkin(setup, [0]);
  const reach = measureSetReach(document, skin, setup.garments, bodySetId);
  return { ...measureFitFigures(document, { bodySetId, skin, base: setup.base, reach }), skin };
}

describe('how bodies fit the skin', () => {
  it('is told of a body all around it: all is covered, and stands out by what it is larger', () => {
    const { bind, clips, bodies } = measureFit({ whole: sphere(RADIUS + 0.008) });
    for (const figures of [bind, clips!, bodies[0]!.fit.bind]) {
      expect(figures.coverage).equal(1);
      // Its facets lie up to 2 mm within the ball.
      expect(figures.overhang).within(0.008, 0.0105);
    }
    expect(bind.hole).equal(null);
    expect(bind.area).above(0.1);
  });

  it('is told of what reaches over a part only, point by point as by hand, with the hole where it is', () => {
    // Covers the half towards +x; the far pole is bare.
    const offset = 0.05;
    const radius = 0.11;
    const { bind, values, skin, joints } = measureFit({ half: sphere(radius, [offset, 0, 0]) });
    let [area, covered, compared] = [0, 0, 0];
    for (let p = 0; p < values.bind.length; p++) {
      const value = values.bind[p]!;
      if (Number.isNaN(value)) continue;
      const [x, y, z] = [skin.positions[3 * p]!, skin.positions[3 * p + 1]!, skin.positions[3 * p + 2]!];
      const wanted = Math.min(FARTHEST, Math.hypot(x - offset, y, z) - radius);
      expect(value).closeTo(wanted, 1e-5);
      area += skin.areas[p]!;
      if (wanted <= COVERED) covered += skin.areas[p]!;
      compared++;
    }
    expect(compared).above(200);
    expect(bind.coverage).closeTo(covered / area, 1e-6);
    expect(bind.coverage).within(0.3, 0.8);
    expect(joints).length(1);
    expect(joints[0]!.fit.bind.coverage).equal(bind.coverage);
    // From the rim of the cap that is covered to the pole on the other side, along the ball, and as far again.
    const rim = (RADIUS ** 2 + offset ** 2 - (radius + COVERED) ** 2) / (2 * offset * RADIUS);
    const way = RADIUS * (Math.PI - Math.acos(rim));
    expect(bind.hole!.width).within(1.85 * way, 2.3 * way);
    expect(bind.hole!.position[0]).closeTo(-RADIUS, 0.01);
    expect(bind.hole!.clip).equal(null);
  });

  it('without bodies is one hole as wide as all of it, and nothing is covered', () => {
    const { bind } = measureFit({});
    expect(bind.coverage).equal(0);
    expect(bind.overhang).equal(0);
    expect(bind.hole!.width).closeTo(2 * RADIUS, 0.03);
  });

  it('counts a mesh of the set as a body, its margin with it, in every pose', () => {
    const { document, setup, bodySetId } = dressMesh(0.007);
    const skin = gatherBodySkin(setup, [0]);
    const reach = measureSetReach(document, skin, setup.garments, bodySetId);
    const fit = measureFitFigures(document, { bodySetId, skin, base: setup.base, reach });
    for (const figures of [fit.bind, fit.clips!, fit.bodies[0]!.fit.clips!]) {
      expect(figures.coverage).equal(1);
      expect(figures.overhang).closeTo(0.007, 1e-5);
    }
    expect(fit.bodies.map(({ id }) => id)).deep.equal(['skin']);
    for (const value of fit.values.bind) if (!Number.isNaN(value)) expect(value).closeTo(-0.007, 1e-5);
  });

  it('says nothing of skin that no cloth can touch', () => {
    const { document, setup, bodySetId } = dress({ whole: sphere(RADIUS) });
    const skin = gatherBodySkin(setup, []);
    const reach = new Float32Array(skin.areas.length);
    const { bind, clips, bodies, joints } = measureFitFigures(document, {
      bodySetId,
      skin,
      base: setup.base,
      reach,
    });
    expect(bind).deep.equal({ area: 0, coverage: Number.NaN, overhang: 0, hole: null });
    expect(clips).equal(null);
    expect(bodies[0]!.fit.bind.area).equal(0);
    expect(joints).deep.equal([]);
  });

  it('gives every vertex that is drawn the value of its point', () => {
    const { values, skin } = measureFit({ half: sphere(0.11, [0.05, 0, 0]) });
    const { character, bodySections } = dress({}).setup;
    const [drawn] = spreadToVertices(skin, character, bodySections, values.bind);
    const { positions } = character.sections[bodySections[0]!]!;
    expect(drawn!.length).equal(positions.length / 3);
    let compared = 0;
    drawn!.forEach((value, v) => {
      if (Number.isNaN(value)) return;
      compared++;
      const wanted =
        Math.hypot(positions[3 * v]! - 0.05, positions[3 * v + 1]!, positions[3 * v + 2]!) - 0.11;
      expect(value).closeTo(Math.min(FARTHEST, wanted), 1e-5);
    });
    expect(compared).above(250);
  });
});

describe('what a body does over several clips', () => {
  it('is the mean of touches and cost, and the most of what it saves', () => {
    const use = (id: string, touched: number, savedDepth: number): BodyUse => ({
      id: id as RecordId,
      touched,
      vertices: 10 * touched,
      savedDepth,
      savedArea: savedDepth / 10,
      cost: touched,
    });
    const joined = joinUses([
      [use('a', 0.2, 0.01), use('b', 0, 0)],
      [use('a', 0.6, 0.002), use('b', 0, 0)],
    ]);
    const a = joined.get('a' as RecordId)!;
    expect(a.touched).closeTo(0.4, 1e-12);
    expect(a.cost).closeTo(0.4, 1e-12);
    expect(a).include({ vertices: 6, savedDepth: 0.01, savedArea: 0.001 });
    expect(joined.get('b' as RecordId)).include({ vertices: 0, touched: 0 });
    expect(joinUses([]).size).equal(0);
  });
});

describe('what bodies do on a clip', () => {
  const bodies = { front: sphere(RADIUS + 0.005), idle: sphere(0.05, [0, 2, 0]) };

  it('is told by leaving each out: one holds the cloth off, another is never touched', () => {
    const { setup, document } = dress(bodies);
    const wearers = new Set(listGarments(document).map(({ id }) => id));
    const uses = finish(measureUse(setup, { wearers, clip: 0 }));
    const of = (id: string): BodyUse => uses.find((use) => use.id === id)!;
    expect(uses).length(2);
    expect(of('front').touched).within(0.15, 0.9);
    expect(of('front').vertices).above(5);
    expect(of('front').savedDepth).above(0.02);
    expect(of('front').savedArea).above(0.0005);
    expect(of('idle')).deep.equal({
      id: 'idle',
      touched: 0,
      vertices: 0,
      savedDepth: 0,
      savedArea: 0,
      cost: 0,
    });
    // Workers that share the bodies find the same.
    const parts = [0, 1].map((index) =>
      finish(measureUse(setup, { wearers, clip: 0, part: { index, count: 2 } })),
    );
    expect(parts.flat()).deep.equal(uses);
  });

  it('is nothing of a body that another one hides', () => {
    const { setup, document } = dress({ outer: sphere(RADIUS + 0.005), inner: sphere(RADIUS - 0.03) });
    const wearers = new Set(listGarments(document).map(({ id }) => id));
    const uses = finish(measureUse(setup, { wearers, clip: 0 }));
    expect(uses.find(({ id }) => id === 'inner')!.vertices).equal(0);
  });

  it('is told of a mesh as of a body', () => {
    const { setup, document } = dressMesh(0);
    const wearers = new Set(listGarments(document).map(({ id }) => id));
    const [use] = finish(measureUse(setup, { wearers, clip: 0 }));
    expect(use!.id).equal('skin');
    expect(use!.touched).within(0.1, 0.9);
    expect(use!.savedDepth).above(0.015);
    expect(use!.savedArea).above(0.0005);
  });

  it('compares on a clip of four frames too, by the last of them', () => {
    const { document, setup, bodySetId } = dress({});
    const { character } = setup;
    const [clip] = character.clips;
    const tracks = clip!.tracks.map((track) => ({
      ...track,
      times: Float32Array.of(0, 0.04, 0.07),
      // From 1 cm behind the sheet to 3 cm out of it.
      values: Float32Array.of(0, 0, -0.13, 0, 0, -0.09, 0, 0, -0.09),
    }));
    const short = { ...character, clips: [{ ...clip!, duration: 0.07, tracks }] };
    const [found] = finish(
      compareSets(document, setUpRun(document, short), {
        usedSetId: bodySetId,
        triedSetIds: [bodySetId],
        clip: 0,
      }),
    );
    expect(found!.showThrough).above(0.0005);
    expect(found!.mostShowThrough).equal(found!.showThrough);
    expect(found!.penetration).above(0.01);
  });

  it('compares with another set in its place, of meshes too', () => {
    const { setup, document, bodySetId } = dressMesh(0);
    const empty = { type: 'bodySet', id: 'empty' as RecordId, name: 'Empty', follows: 'skin' } as const;
    document.records.set(empty.id, empty);
    const [used, tried] = finish(
      compareSets(document, setup, { usedSetId: bodySetId, triedSetIds: [bodySetId, empty.id], clip: 0 }),
    );
    expect(used!.penetration).below(0.005);
    expect(tried!.penetration).above(used!.penetration + 0.01);
  });

  it('compares with another set in its place', () => {
    const { setup, document, bodySetId } = dress(bodies);
    document.records.set('empty' as RecordId, {
      type: 'bodySet',
      id: 'empty' as RecordId,
      name: 'Empty',
      follows: 'skin',
    });
    const triedSetIds = [bodySetId, 'empty' as RecordId, bodySetId];
    const [used, tried, again] = finish(
      compareSets(document, setup, { usedSetId: bodySetId, triedSetIds, clip: 0 }),
    );
    // What goes beside it does not change it.
    expect(again).deep.equal(used);
    expect(used!.showThrough).below(0.0002);
    expect(tried!.showThrough).above(0.0005);
    expect(tried!.penetration).above(used!.penetration);
  });
});

describe('contacts', () => {
  it('are told of a mesh, with the normal of its triangle', () => {
    const { setup } = dressMesh(0.004);
    const run = startRun(setup);
    run.play(0);
    run.reset();
    let count = 0;
    for (let frame = 0; frame < 30; frame++) {
      run.step();
      const middle = run.pose.worldMatrices.subarray(28, 31);
      new BodyContacts().visit(run, ({ garment, point, id, normal }) => {
        count++;
        expect(id).equal('skin');
        const place = garment.solver.positions.subarray(4 * point, 4 * point + 3);
        const way = [0, 1, 2].map((k) => place[k]! - middle[k]!);
        const length = Math.hypot(...way);
        expect(length).at.most(RADIUS + 0.004 + garment.solver.fabric.thickness + 0.0031);
        // Facets of the ball turn by some degrees from one to the next.
        expect(way.reduce((sum, value, k) => sum + value * normal[k]!, 0) / length).above(0.95);
      });
    }
    expect(count).above(20);
  });

  it('are the points that a body keeps at the thickness, with its normal, and none before it comes', () => {
    const { setup } = dress({ front: sphere(RADIUS + 0.005) });
    const run = startRun(setup);
    const contacts = new BodyContacts();
    run.play(0);
    run.reset();
    const counts: number[] = [];
    const { thickness } = run.garments[0]!.solver.fabric;
    for (let frame = 0; frame < 40; frame++) {
      run.step();
      let count = 0;
      const middle = run.pose.worldMatrices.subarray(28, 31);
      contacts.visit(run, ({ garment, point, id, normal }) => {
        count++;
        expect(id).equal('front');
        const place = garment.solver.positions.subarray(4 * point, 4 * point + 3);
        const way = [0, 1, 2].map((k) => place[k]! - middle[k]!);
        const length = Math.hypot(...way);
        expect(length).at.most(RADIUS + 0.005 + thickness + 0.0006);
        for (let k = 0; k < 3; k++) expect(normal[k]).closeTo(way[k]! / length, 1e-4);
      });
      counts.push(count);
    }
    expect(counts[0]).equal(0);
    expect(Math.max(...counts)).above(5);
  });
});
