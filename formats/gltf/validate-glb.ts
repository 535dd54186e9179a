import { validateBytes } from 'gltf-validator';

export interface ValidationSummary {
  errors: number;
  warnings: number;
  /** The errors, or the first warnings when there are none. */
  messages: { code: string; message: string; pointer: string }[];
}

const LISTED = 20;

/** What the Khronos glTF validator says of a file. It does not know our extensions and skips them. */
export async function validateGlb(bytes: Uint8Array): Promise<ValidationSummary> {
  const report = await validateBytes(bytes, { maxIssues: 1000 });
  const { numErrors, numWarnings, messages } = report.issues;
  const worst = numErrors > 0 ? 0 : 1;
  return {
    errors: numErrors,
    warnings: numWarnings,
    messages: messages
      .filter((message) => message.severity === worst)
      .slice(0, LISTED)
      .map(({ code, message, pointer }) => ({ code, message, pointer: pointer ?? '' })),
  };
}
