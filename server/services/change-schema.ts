import { array, boolean, type InferType, lazy, mixed, number, object, type Schema, string } from 'yup';
import { FABRIC_KEYS, FABRIC_PARAMETERS } from '../../core/cloth/index.ts';
import { CHANNEL_KINDS } from '../../core/reach/index.ts';

/** What the page may write, checked field by field; unknown fields are refused. */
const id = string().required().min(1).max(80);
const name = string().required().min(1).max(200);
const place = array(number().required()).length(3).required();
const index = number().required().integer().min(0);
const radius = number().required().min(0.001).max(10);

const settings = object(
  Object.fromEntries(
    FABRIC_KEYS.map((key) => {
      const { range, isCount } = FABRIC_PARAMETERS[key];
      const bounded = number().required().min(range[0]).max(range[1]);
      return [key, isCount ? bounded.integer() : bounded];
    }),
  ),
)
  .noUnknown()
  .required();

const section = object({ sectionIndex: index, sectionName: string().defined().max(400) }).noUnknown();
const length = number().required().min(0.001).max(10);
const share = number().required().min(0).max(1);
const joint = string().required().max(400);
const angle = number().required().min(0).max(Math.PI);
const influences = number().required().integer().min(1).max(8);

const act = (settings: Record<string, Schema> = {}): Schema =>
  object({ kind: string().required(), ...settings })
    .noUnknown()
    .required();

/** Settings of each kind of preparation step. */
const ACTS: Record<string, Schema> = {
  weld: act(),
  dropFaces: act(),
  turnFaces: act(),
  joinRows: act(),
  splitPieces: act(),
  alignDiagonals: act(),
  evenOut: act({ edgeLength: length }),
  cut: act({ name: string().required().max(200) }),
  pushOut: act({ offset: number().required().min(0).max(0.2) }),
  restInPose: act({ clipName: string().required().max(400) }),
  transferWeights: act({ maxDistance: length, maxAngle: angle, influences }),
  transferMorphs: act({ maxDistance: length, maxAngle: angle }),
  handOverWeights: act({ keptJoints: array(joint).required().max(1000), toJoint: joint }),
  smoothWeights: act({ strength: share, times: number().required().integer().min(1).max(1000) }),
  limitWeights: act({ influences, least: share }),
  makeSimMesh: act({ edgeLength: length, borderDetail: share, others: array(section).defined().max(200) }),
  makeCard: act({
    rows: number().required().integer().min(1).max(20),
    others: array(section).defined().max(200),
  }),
  useAsSimMesh: act(),
  thicken: act({
    thickness: number().required().min(0.0005).max(0.1),
    rim: string().oneOf(['rounded', 'square']).required(),
  }),
  movePoints: act({ keepsLengths: boolean().required() }),
  setWeights: act({ joints: array(joint).required().min(1).max(1000) }),
};

/** Names like `__proto__` are no kinds of ours. */
function findOwn(schemas: Record<string, Schema>, name: unknown): Schema | undefined {
  return typeof name === 'string' && Object.hasOwn(schemas, name) ? schemas[name] : undefined;
}

const anyAct = lazy(
  (value: { kind?: string } | undefined) =>
    findOwn(ACTS, value?.kind) ??
    mixed().test('kind', `"${value?.kind}" is not a step of preparation`, () => false),
);

const RECORDS: Record<string, Schema> = {
  garment: object({
    type: string().required(),
    id,
    name,
    order: number().required(),
    sectionIndex: index,
    sectionName: string().defined().max(400),
    fabricId: id,
    bodySetId: id,
    warpTurn: number().required().min(-Math.PI).max(Math.PI),
    blend: number().required().min(0).max(1),
    renders: array(section).defined().max(200),
    lining: string().oneOf(['none', 'inside']).required(),
  }).noUnknown(),
  channel: object({
    type: string().required(),
    id,
    garmentId: id,
    kind: string()
      .oneOf([...CHANNEL_KINDS])
      .required(),
    isInUse: boolean().required(),
    name,
    pointCount: index,
  }).noUnknown(),
  fabric: object({ type: string().required(), id, name, settings }).noUnknown(),
  bodySet: object({ type: string().required(), id, name }).noUnknown(),
  body: object({
    type: string().required(),
    id,
    bodySetId: id,
    name,
    jointName: string().required().max(400),
    shape: object({
      kind: string().oneOf(['sphere', 'capsule', 'taperedCapsule']).required(),
      node: index,
      a: place,
      b: place,
      radiusA: radius,
      radiusB: radius,
    })
      .noUnknown()
      .required(),
  }).noUnknown(),
  step: object({
    type: string().required(),
    id,
    sectionIndex: index,
    sectionName: string().defined().max(400),
    order: number().required(),
    act: anyAct,
  }).noUnknown(),
  scene: object({
    type: string().required(),
    id,
    clipName: string().nullable().defined().max(400),
    windSpeed: number().required().min(0).max(50),
    windDirection: number().required().min(-360).max(360),
    windGusts: number().required().min(0).max(1),
    windTurbulence: number().required().min(0).max(1),
    budgetMilliseconds: number().required().min(0.01).max(1000),
    morphs: lazy((value: object | undefined) =>
      object(
        Object.fromEntries(Object.keys(value ?? {}).map((key) => [key, number().required().min(-1).max(2)])),
      )
        .noUnknown()
        .required(),
    ),
  }).noUnknown(),
};

const record = lazy((value: { type?: string } | null) => {
  if (value === null) return mixed().nullable();
  return (
    findOwn(RECORDS, value?.type) ??
    mixed().test('type', `"${value?.type}" is not a type of record`, () => false)
  );
});

export const ChangesSchema = object({
  changes: array(
    object({
      id,
      baseVersion: index,
      record,
      array: string()
        .max(24_000_000)
        .matches(/^[A-Za-z0-9+/]*={0,2}$/, 'array must be base64'),
    })
      .noUnknown()
      .required(),
  )
    .required()
    .min(1)
    .max(5000),
});

export type ChangesBody = InferType<typeof ChangesSchema>;
