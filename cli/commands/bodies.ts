import { parseArgs } from 'node:util';
import {
  type BodyUse,
  joinUses,
  measureFitFigures,
  measureSetReach,
  measureUse,
  type PoseFit,
} from '../../core/body-figures/index.ts';
import { listBodies, listBodyMeshes, listGarments, type RecordId } from '../../core/document/index.ts';
import { setUpRun } from '../../core/run/index.ts';
import { gatherBodySkin } from '../../core/suggest/index.ts';
import { finish } from '../../server/work/jobs/finish.ts';
import type { Command } from '../command.ts';
import { findClips } from '../find-clips.ts';
import { toPrintableName } from '../printable.ts';
import { readDressed } from '../read-dressed.ts';
import { UsageError } from '../usage-error.ts';

const USAGE = `Usage: ./cobweb bodies FILE.glb [--clips NAME,NAME] [--use] [--json]

Tells how the bodies of a shipped character fill the skin that its garments can touch: share covered (within 5 mm), how
far they stand out (95 % of the skin), and the largest hole, in bind pose and over the clips.

  --clips   clips that count; default all
  --use     also plays each clip without each body in turn: frames in which cloth lies on it, depth that it saves, its cost
  --json    print {"bind", "clips", "bodies": [{"name", "joint", "bind", "clips", "use"}]}, in m, m² and ms;
            the joint of a mesh is null

Exit code: 0, 2 with the reason when the file cannot be used.`;

export const command: Command = {
  summary: 'tell how bodies fit the skin and what each does',
  usage: USAGE,
  async run(args) {
    const { values, positionals } = parseArgs({
      args,
      options: { clips: { type: 'string' }, use: { type: 'boolean' }, json: { type: 'boolean' } },
      allowPositionals: true,
    });
    const [file] = positionals;
    if (!file) throw new UsageError('name a .glb with garments. See ./cobweb bodies --help.');
    const { character, authored, garment } = await readDressed(file);
    const { bodySetId } = garment;
    const clips = character.clips.length > 0 ? findClips(character, values.clips) : [];
    const setup = setUpRun(authored, character);
    const skin = gatherBodySkin(setup, clips);
    const reach = measureSetReach(authored, skin, setup.garments, bodySetId);
    const {
      bind,
      clips: played,
      bodies,
    } = measureFitFigures(authored, { bodySetId, skin, base: setup.base, reach });
    const wearers = new Set(
      listGarments(authored)
        .filter((one) => one.bodySetId === bodySetId)
        .map(({ id }) => id),
    );
    const measured = values.use ? clips.map((clip) => finish(measureUse(setup, { wearers, clip }))) : [];
    const uses = joinUses(measured);
    const named = new Map<RecordId, { name: string; joint: string | null }>([
      ...listBodies(authored, bodySetId).map(
        ({ id, name, jointName }) => [id, { name, joint: jointName }] as const,
      ),
      ...listBodyMeshes(authored, bodySetId).map(({ id, name }) => [id, { name, joint: null }] as const),
    ]);
    const rows = bodies.map(({ id, fit }) => ({
      ...named.get(id)!,
      ...fit,
      ...(values.use && { use: uses.get(id) }),
    }));
    if (values.json) console.log(JSON.stringify({ bind, clips: played, bodies: rows }, null, 2));
    else {
      console.log(`bind pose: ${tellFit(bind)}`);
      if (played) console.log(`clips: ${tellFit(played)}`);
      for (const { name, bind: own, use } of rows)
        console.log(`  ${toPrintableName(name)}: ${tellOwn(own)}${use ? `, ${tellUse(use)}` : ''}`);
    }
    return 0;
  },
};

function tellFit({ coverage, overhang, hole }: PoseFit): string {
  if (Number.isNaN(coverage)) return 'no cloth comes near the skin';
  const widest = hole ? `largest hole ${(100 * hole.width).toFixed(1)} cm` : 'no hole';
  return `${(100 * coverage).toFixed(0)} % covered, overhang ${(1e3 * overhang).toFixed(1)} mm, ${widest}`;
}

function tellOwn({ area, coverage, overhang }: Omit<PoseFit, 'hole'>): string {
  return area > 0
    ? `${(100 * coverage).toFixed(0)} % covered, overhang ${(1e3 * overhang).toFixed(1)} mm`
    : 'no skin is nearest to it';
}

function tellUse({ touched, savedDepth, cost }: BodyUse): string {
  return touched === 0
    ? 'never touched'
    : `touched in ${(100 * touched).toFixed(0)} % of the frames, saves ${(1e3 * savedDepth).toFixed(1)} mm, ${(1e3 * cost).toFixed(0)} µs`;
}
