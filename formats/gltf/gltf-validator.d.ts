declare module 'gltf-validator' {
  export interface Report {
    issues: {
      numErrors: number;
      numWarnings: number;
      messages: { code: string; message: string; severity: number; pointer?: string }[];
    };
  }
  export function validateBytes(bytes: Uint8Array, options?: { maxIssues?: number }): Promise<Report>;
}
