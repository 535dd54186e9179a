import type { BrokenLimit, TrialReport } from './trial-report.ts';

/** A trial as JUnit XML: a clip is a test case, a broken limit its failure. @param seconds - What each clip took. */
export function writeJunit(name: string, { clips }: TrialReport, seconds: readonly number[]): string {
  const failed = clips.filter(({ passes }) => !passes).length;
  const total = seconds.reduce((sum, each) => sum + each, 0).toFixed(3);
  const suite = escapeXml(name);
  const cases = clips.map(({ name: clip, broken }, i) => {
    const open = `    <testcase classname="${suite}" name="${escapeXml(clip)}" time="${seconds[i]!.toFixed(3)}"`;
    const [first] = broken;
    if (!first) return `${open}/>`;
    const text = escapeXml(broken.map(tellBroken).join('\n'));
    const failure = `<failure message="${escapeXml(tellBroken(first))}" type="limit">${text}</failure>`;
    return `${open}>\n      ${failure}\n    </testcase>`;
  });
  const counts = `tests="${clips.length}" failures="${failed}"`;
  return `<?xml version="1.0" encoding="UTF-8"?>
<testsuites ${counts} time="${total}">
  <testsuite name="${suite}" ${counts} errors="0" skipped="0" time="${total}">
${cases.join('\n')}
  </testsuite>
</testsuites>
`;
}

/** "Poncho: penetrationMillimetres 8.4 over 8 at 0.35 s" */
export function tellBroken({ garment, measure, value, limit, time }: BrokenLimit): string {
  return `${garment}: ${measure} ${value} over ${limit} at ${time.toFixed(2)} s`;
}

/** Text as XML 1.0 may hold it: what it has no character for becomes U+FFFD. */
function escapeXml(text: string): string {
  return text
    .replace(/[^\t\n\r\u{20}-\u{D7FF}\u{E000}-\u{FFFD}\u{10000}-\u{10FFFF}]/gu, '\uFFFD')
    .replaceAll('&', '&amp;')
    .replaceAll('<', '&lt;')
    .replaceAll('>', '&gt;')
    .replaceAll('"', '&quot;');
}
