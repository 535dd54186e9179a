import {
  type AuthoredRecord,
  type BodyMeshRecord,
  type BodyRecord,
  type GarmentRecord,
  groupBit,
  type RecordId,
} from '../../../../../core/document/index.ts';
import { useDocument } from '../../../../state/workbench.ts';

export interface GroupMatrixProps {
  /** Of one set. */
  bodies: readonly (BodyRecord | BodyMeshRecord)[];
  /** Garments that use it. */
  garments: readonly GarmentRecord[];
}

/** Which garments meet which collision groups; nothing while all bodies are in one group that all garments meet. */
export function GroupMatrix({ bodies, garments }: GroupMatrixProps) {
  const editor = useDocument();
  const groups = [...new Set(bodies.map(({ group }) => group))].sort((p, q) => p - q);
  const isPlain =
    groups.length < 2 &&
    garments.every(({ bodyGroups }) => groups.every((group) => bodyGroups & groupBit(group)));
  if (isPlain || garments.length === 0) return null;
  const toggle = (garment: GarmentRecord, group: number): void => {
    const bodyGroups = garment.bodyGroups ^ groupBit(group);
    const changed: AuthoredRecord = { ...garment, bodyGroups };
    editor.changeRecords('Change collision groups', [[garment.id as RecordId, changed]]);
  };
  return (
    <table className="mt-3 w-full border-collapse text-xs" aria-label="Collision groups">
      <thead className="text-soft">
        <tr>
          <th className="py-1 text-left font-medium">Meets group</th>
          {groups.map((group) => (
            <th
              key={group}
              className="num px-1 py-1 font-medium"
              title={bodies
                .filter((body) => body.group === group)
                .map(({ name }) => name)
                .join(', ')}
            >
              {group}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {garments.map((garment) => (
          <tr key={garment.id} className="border-t border-line">
            <td className="truncate py-1">{garment.name}</td>
            {groups.map((group) => (
              <td key={group} className="px-1 py-1 text-center">
                <input
                  type="checkbox"
                  className="accent-teal"
                  aria-label={`${garment.name} meets group ${group}`}
                  checked={(garment.bodyGroups & groupBit(group)) !== 0}
                  onChange={() => toggle(garment, group)}
                />
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
