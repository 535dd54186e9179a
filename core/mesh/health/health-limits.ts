/** What a mesh may measure before a check finds something. */
export interface HealthLimits {
  /** Degrees: a triangle with a sharper corner is thin. */
  sliverAngle: number;
  /** Degrees: one with a corner this sharp has no direction to bend about. */
  severeSliverAngle: number;
  /** Times from the 5th to the 95th percentile of edge lengths. */
  spacingSpread: number;
  /** Times between the mean edge lengths around two joined points. */
  spacingJump: number;
  /** Percent of strain that the worst twentieth of the edges has in the pose it plays in. */
  poseStretch: number;
  /** Percent of the UV area that two triangles share. */
  uvOverlap: number;
  /** Times that an image is drawn out one way against the other, at the worst twentieth. */
  uvStretch: number;
}

export interface HealthLimitDefinition {
  name: keyof HealthLimits;
  label: string;
  unit: string;
  least: number;
  most: number;
  standard: number;
  hint: string;
}

/** Every limit that can be changed, with where it stands by itself: one row here is a field, a control and an option. */
export const HEALTH_LIMITS: readonly HealthLimitDefinition[] = [
  {
    name: 'sliverAngle',
    label: 'Sliver',
    unit: '°',
    least: 0,
    most: 60,
    // Ordinary low-poly meshes have triangles down to a few degrees: they simulate, if not well.
    standard: 4,
    hint: 'A corner sharper than this is a warning.',
  },
  {
    name: 'severeSliverAngle',
    label: 'Sliver, severe',
    unit: '°',
    least: 0,
    most: 60,
    // Below one degree they jitter.
    standard: 1,
    hint: 'A corner sharper than this is severe.',
  },
  {
    name: 'spacingSpread',
    label: 'Short to long edges',
    unit: '×',
    least: 1,
    most: 100,
    standard: 4,
    hint: 'From the shortest to the longest twentieth of the edges.',
  },
  {
    name: 'spacingJump',
    label: 'Jump of spacing',
    unit: '×',
    least: 1,
    most: 100,
    standard: 3,
    hint: 'Between the edges around two joined vertices.',
  },
  {
    name: 'poseStretch',
    label: 'Stretch in pose',
    unit: '%',
    least: 0,
    most: 100,
    // Strain that cloth takes without showing.
    standard: 15,
    hint: 'Strain of the worst twentieth of the edges in the pose it plays in. Pressing counts by a third: it folds.',
  },
  {
    name: 'uvOverlap',
    label: 'Shared UV area',
    unit: '%',
    least: 0,
    most: 100,
    standard: 0.5,
    hint: 'Of the area that is covered.',
  },
  {
    name: 'uvStretch',
    label: 'UVs drawn out',
    unit: '×',
    least: 1,
    most: 100,
    standard: 2.5,
    hint: 'Of the worst twentieth of the triangles, one way against the other.',
  },
];

export const STANDARD_LIMITS = Object.fromEntries(
  HEALTH_LIMITS.map(({ name, standard }) => [name, standard]),
) as unknown as Readonly<HealthLimits>;

/** All limits, where some were changed. */
export function completeLimits(changed: Partial<HealthLimits> = {}): HealthLimits {
  return { ...STANDARD_LIMITS, ...changed };
}
