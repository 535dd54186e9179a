import { strToU8, type Zippable, zipSync } from 'fflate';
import {
  createCalibrationCharacter,
  createCalibrationDocument,
  listTargetGarments,
  nameGarmentFile,
  type TargetGarment,
  writeTimingsTemplate,
} from '../../core/budget/index.ts';
import { FRAME_RATE } from '../../core/run/index.ts';
import { getGltfIo } from '../gltf/gltf-io.ts';
import { writeCharacter } from '../gltf/write-character.ts';
import { readCharacter } from '../read-character.ts';
import { writeShipment } from '../shipment/write-shipment.ts';

/** All files within are of this day, so that the same kit has the same bytes. */
const DAY = new Date(2020, 0, 1);

const GUIDE = `Calibration garments of Cobweb

They tell what cloth costs on the machine that your game runs on, with the cloth of your engine.

1. Bring each of the files in "garments" into your engine, with its cloth settings, maps and bodies: they are GLB
   files as Cobweb ships them. timings.csv says what each has to be set to.
2. On the target machine, play the clip of each in a loop at ${FRAME_RATE} frames a second. Let the first round pass.
3. Over the next round measure what the cloth of a frame takes on the mean, on one core, in milliseconds: simulation,
   collision, skinning and binding of the garment, without drawing.
4. Write it into the columns ms_1, ms_2 and ms_3 of timings.csv: up to three times, the more the better. Leave empty
   what your engine cannot do; what cannot be told from the rest is then assumed, and you are told.
5. Bring timings.csv back: page "Targets" of Cobweb, or ./cobweb calibrate --from timings.csv
`;

/** Garments to be timed on another machine, with the table to fill in, as a ZIP archive. The same bytes each time. */
export async function writeTargetKit(): Promise<Uint8Array> {
  const files: Zippable = {
    'README.txt': strToU8(GUIDE),
    'timings.csv': strToU8(writeTimingsTemplate()),
  };
  for (const [index, garment] of listTargetGarments().entries()) {
    files[nameGarmentFile(index, garment)] = await writeGarment(garment);
  }
  return zipSync(files, { mtime: DAY });
}

/** As a file that was brought in and authored. */
async function writeGarment({ spec }: TargetGarment): Promise<Uint8Array> {
  const made = writeCharacter(createCalibrationCharacter(spec));
  const bytes = await (await getGltfIo()).writeBinary(made);
  const source = await readCharacter([{ name: `${spec.name}.glb`, bytes }]);
  return writeShipment(source, createCalibrationDocument(spec, source.character));
}
