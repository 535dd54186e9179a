/** Nobody may show us inside a page of theirs. */
export const NO_FRAMES = "frame-ancestors 'none'";

/**
 * The policy of a page. Styles may be inline (components place themselves with them); a hash beside 'unsafe-inline' would
 * switch that off again, and the page framework always adds some.
 */
export function completePolicy(policy: string): string {
  const styles = policy.replace(/style-src [^;]*/, "style-src 'self' 'unsafe-inline'");
  return `${styles.replace(/;\s*$/, '')}; ${NO_FRAMES}`;
}
