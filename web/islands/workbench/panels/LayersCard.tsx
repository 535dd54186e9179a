import { areClear, type GarmentRecord, listGarments } from '../../../../core/document/index.ts';
import { useDocument } from '../../../state/workbench.ts';

/** Of a garment that lies over others: which of them it is kept off. */
export function LayersCard({ garment }: { garment: GarmentRecord }) {
  const editor = useDocument();
  const garments = listGarments(editor.document);
  const beneath = garments.slice(
    0,
    garments.findIndex(({ id }) => id === garment.id),
  );
  const fabric = editor.document.records.get(garment.fabricId);
  if (beneath.length === 0 || fabric?.type !== 'fabric') return null;
  const { layerMargin } = fabric.settings;
  const toggle = (other: GarmentRecord): void => {
    const isClear = areClear(garment, other);
    const without = (one: GarmentRecord, two: GarmentRecord): GarmentRecord => ({
      ...one,
      clearOf: one.clearOf.filter((id) => id !== two.id),
    });
    editor.changeRecords(
      `${garment.name} ${isClear ? 'keeps off' : 'is clear of'} ${other.name}`,
      isClear
        ? [without(garment, other), without(other, garment)].map((one) => [one.id, one])
        : [[garment.id, { ...garment, clearOf: [...garment.clearOf, other.id] }]],
    );
  };
  return (
    <fieldset className="mt-2.5">
      <legend className="font-semibold">Keeps off garments beneath</legend>
      {layerMargin === 0 ? (
        <p className="text-xs text-soft">None: the layer margin of its fabric is 0.</p>
      ) : (
        <>
          {beneath.map((other) => (
            <label key={other.id} className="mt-1 flex items-center gap-1.5">
              <input
                type="checkbox"
                className="accent-teal"
                checked={!areClear(garment, other)}
                onChange={() => toggle(other)}
              />
              <span className="truncate">{other.name}</span>
            </label>
          ))}
          <p className="mt-1 text-xs text-soft">
            By {(1000 * layerMargin).toLocaleString('en')} mm. Leave out what it never comes near: that costs
            nothing then, and neither waits for the other.
          </p>
        </>
      )}
    </fieldset>
  );
}
