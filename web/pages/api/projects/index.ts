import { CharacterService } from '../../../../server/services/character-service.ts';
import { ProjectService } from '../../../../server/services/project-service.ts';
import { newProjectSchema } from '../../../wire/projects.ts';
import { endpoint, json } from '../_endpoint.ts';

export const prerender = false;

/** All projects with their characters. */
export const GET = endpoint(async ({ em, pool }) => {
  const projects = await new ProjectService(em).list();
  const characters = await new CharacterService(em, pool).summarise(projects.map(({ id }) => id));
  return json({
    projects: projects.map(({ id, name, version }) => ({
      id,
      name,
      version,
      characters: characters.filter((character) => character.projectId === id),
    })),
  });
});

export const POST = endpoint(async ({ em, request }) => {
  const { name } = await newProjectSchema.validate(await request.json());
  const project = await new ProjectService(em).create(name);
  return json({ id: project.id, name: project.name, version: project.version, characters: [] }, 201);
});
