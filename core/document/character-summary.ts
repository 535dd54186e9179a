/** A character as the library shows it. */
export interface CharacterSummary {
  id: string;
  projectId: string;
  name: string;
  thumbnailHash: string;
  garments: string[];
  bodies: number;
  clips: number;
  vertices: number;
  editedAt: string;
  shippedAt: string | null;
  /** Whether nothing has changed since it was shipped. */
  isShippedAsIs: boolean;
}
