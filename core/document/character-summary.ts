/** A character as the library shows it. */
export interface CharacterSummary {
  id: string;
  projectId: string;
  name: string;
  version: number;
  thumbnailHash: string;
  garments: string[];
  bodies: number;
  clips: number;
  vertices: number;
  editedAt: string;
  shippedAt: string | null;
}
