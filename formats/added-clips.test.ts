import { expect } from 'chai';
import { createDocument, createGarment, insertGarment, type RecordId } from '../core/document/index.ts';
import { Pose } from '../core/rig/index.ts';
import { IntakeError, readCharacter, type SourceFile, writeShipment } from './index.ts';
import { createStrip, type GltfBuilder } from './test-gltf.ts';

const strip: SourceFile = { name: 'Strip.glb', bytes: createStrip().toGlb() };

/** Only nodes and a clip, as clips are exported; its nodes in another order than the character's. */
function createClipFile(name = 'nod', joint = 'upper'): SourceFile {
  const builder: GltfBuilder = createStrip();
  const { json } = builder;
  json.meshes = [];
  json.skins = [];
  json.nodes = [
    { name: joint, translation: [0, 0.5, 0] },
    { name: 'lower', children: [0] },
  ];
  json.scenes![0]!.nodes = [1];
  json.animations![0]!.name = name;
  json.animations![0]!.channels![0]!.target!.node = 0;
  return { name: `${name}.glb`, bytes: builder.toGlb(), isClips: true };
}

async function codeOf(files: SourceFile[]): Promise<string> {
  try {
    await readCharacter(files);
    return 'none';
  } catch (error) {
    if (error instanceof IntakeError) return error.code;
    throw error;
  }
}

describe('clips added from other files', () => {
  it('move the joints of the same name, without meshes of their own', async () => {
    const { character, report } = await readCharacter([strip, createClipFile()]);
    expect(character.clips.map(({ name }) => name)).deep.equal(['bend', 'nod']);
    expect(report.clips).deep.include({ name: 'nod', seconds: 2, tracks: 1, from: 'nod.glb' });
    expect(report.counts.clips).equal(2);
    const [bend, nod] = character.clips.map((clip) => {
      const pose = new Pose(character);
      pose.setClip(clip, 1.5);
      return pose.worldMatrices;
    });
    expect(nod).deep.equal(bend);
  });

  it('are named apart when a name is taken', async () => {
    const { character } = await readCharacter([strip, createClipFile('bend')]);
    expect(character.clips.map(({ name }) => name)).deep.equal(['bend', 'bend (2)']);
  });

  it('are refused, with the reason, when nothing of them fits', async () => {
    expect(await codeOf([strip, createClipFile('nod', 'tail')])).equal('other-skeleton');
    const still = createStrip();
    still.json.animations = [];
    expect(await codeOf([strip, { name: 'still.glb', bytes: still.toGlb(), isClips: true }])).equal(
      'no-clips',
    );
    expect(await codeOf([strip, { name: 'walk.txt', bytes: new Uint8Array(4), isClips: true }])).equal(
      'unknown-format',
    );
  });

  it('are in the shipped file', async () => {
    const read = await readCharacter([strip, createClipFile()]);
    const document = createDocument();
    let ids = 0;
    const made = createGarment(read.character, document, 0, () => `id-${++ids}` as RecordId);
    insertGarment(document, made);
    const shipped = await writeShipment(read, document);
    const again = await readCharacter([{ name: 'Strip.cloth.glb', bytes: shipped }]);
    expect(again.character.clips.map(({ name }) => name)).deep.equal(['bend', 'nod']);
    expect(again.character.clips[1]!.tracks[0]!.values).deep.equal(
      read.character.clips[1]!.tracks[0]!.values,
    );
  });
});
