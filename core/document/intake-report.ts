/** What was found when a file was read: facts, what was unpacked, what was repaired, what is odd. */
export interface IntakeReport {
  files: { name: string; bytes: number }[];
  format: 'glTF binary' | 'glTF' | 'OBJ';
  generator: string | null;
  /** Size of the character in bind pose, metres. */
  size: { width: number; height: number; depth: number };
  /** The same as its nodes stand in the file; not in reports of files that were read before this was measured. */
  sizeAsPlaced?: { width: number; height: number; depth: number };
  counts: {
    nodes: number;
    joints: number;
    skins: number;
    sections: number;
    vertices: number;
    triangles: number;
    clips: number;
    morphs: number;
  };
  sections: {
    name: string;
    mesh: string;
    material: string;
    vertices: number;
    triangles: number;
    /** Most joints that any vertex really follows. */
    influences: number;
    morphs: number;
    isRigid: boolean;
  }[];
  /** `from`: the file that a clip was added from, when it did not come with the character. */
  clips: { name: string; seconds: number; tracks: number; from?: string }[];
  /** Packings that were undone on reading. */
  decoded: string[];
  /** What was wrong and was put right; the source file is not changed. */
  repairs: ReportNote[];
  /** What is unusual, left as it is. */
  odd: ReportNote[];
}

export interface ReportNote {
  code: string;
  /** Where in the file: the element by name and number. */
  where: string;
  sentence: string;
}
