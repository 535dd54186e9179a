import { CAMERA_DEFAULTS, CAMERA_RANGES } from '../../../core/crowd/index.ts';
import type { CrowdWork } from '../../state/crowd-work.ts';
import type { ProjectCrowd } from '../../wire/levels.ts';
import { NumberRow } from '../parts/NumberRow.tsx';

const DEGREES = 180 / Math.PI;

/** How the characters are looked at, and what the target has for cloth. */
export function CameraCard({ work, crowd }: { work: CrowdWork; crowd: ProjectCrowd }) {
  const { camera } = crowd.settings;
  const { name, budget, cores } = crowd.target;
  return (
    <section className="card p-4" aria-label="Camera and target">
      <h2 className="font-semibold">Camera and target</h2>
      <NumberRow
        label="Field of view"
        hint="From the upper to the lower edge of the picture"
        value={DEGREES * camera.fieldOfView}
        unit="°"
        min={20}
        max={110}
        typedMin={DEGREES * CAMERA_RANGES.fieldOfView[0]}
        typedMax={DEGREES * CAMERA_RANGES.fieldOfView[1]}
        step={1}
        digits={0}
        defaultValue={DEGREES * CAMERA_DEFAULTS.fieldOfView}
        onChange={(degrees) => work.setCamera({ fieldOfView: degrees / DEGREES })}
      />
      <NumberRow
        label="Picture height"
        hint="Of the target's picture"
        value={camera.screenHeight}
        unit="px"
        min={360}
        max={2160}
        typedMin={CAMERA_RANGES.screenHeight[0]}
        typedMax={CAMERA_RANGES.screenHeight[1]}
        step={10}
        digits={0}
        defaultValue={CAMERA_DEFAULTS.screenHeight}
        onChange={(screenHeight) => work.setCamera({ screenHeight: Math.round(screenHeight) })}
      />
      <p className="mt-1.5 text-xs text-soft">
        On{' '}
        <a className="underline" href="/targets">
          {name}
        </a>
        : <span className="num">{budget.toFixed(2)}</span> ms of a frame for cloth, on{' '}
        <span className="num">{cores}</span> {cores === 1 ? 'core' : 'cores'}.
      </p>
    </section>
  );
}
