import { MACHINE_ID } from '../../../../core/cost/index.ts';
import { AuthoredService } from '../../../../server/services/authored-service.ts';
import { CharacterService } from '../../../../server/services/character-service.ts';
import { hashSource } from '../../../../server/services/seen-state.ts';
import { editSchema } from '../../../wire/fields.ts';
import { endpoint, json } from '../_endpoint.ts';

export const prerender = false;

/** A character with its report and authored records; channel values and the unpacked character are named by blob. */
export const GET = endpoint(async ({ em, pool, param }) => {
  const characters = new CharacterService(em, pool);
  const character = await characters.find(param('id'));
  const packedHash = await characters.ensurePacked(character);
  const records = await new AuthoredService(em).list(character.id);
  return json({
    id: character.id,
    name: character.name,
    project: {
      id: character.project.id,
      name: character.project.name,
      limits: character.project.limits,
      targetId: character.project.targetId ?? MACHINE_ID,
    },
    report: character.report,
    revision: character.revision,
    source: hashSource(character),
    packedHash,
    shippedAt: character.shippedAt?.toISOString() ?? null,
    records,
  });
});

/** Renames, deletes, or takes a deletion back. */
export const PATCH = endpoint(async ({ em, pool, request, param }) => {
  const { name, isDeleted } = await editSchema.validate(await request.json());
  const characters = new CharacterService(em, pool);
  if (isDeleted !== undefined) await characters.setDeleted(param('id'), isDeleted);
  if (name !== undefined) await characters.rename(param('id'), name);
  return json({ ok: true });
});
