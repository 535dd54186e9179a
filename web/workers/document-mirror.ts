import { type AuthoredDocument, createDocument } from '../../core/document/index.ts';
import type { DocumentPatch } from './preview-protocol.ts';

/** The worker's own copy of the authored document, kept up to date by patches. */
export class DocumentMirror {
  readonly document: AuthoredDocument = createDocument();

  apply(patch: DocumentPatch): void {
    const { records, arrays } = this.document;
    for (const [id, record] of patch.records) {
      if (record) records.set(id, record);
      else records.delete(id);
    }
    for (const [id, change] of patch.arrays) {
      if (change === null) arrays.delete(id);
      else if (change instanceof Float32Array) arrays.set(id, change);
      else {
        const values = arrays.get(id);
        if (values)
          for (let k = 0; k < change.indices.length; k++) values[change.indices[k]!] = change.after[k]!;
      }
    }
  }
}
