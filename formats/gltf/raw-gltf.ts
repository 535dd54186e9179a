/** The parts of a glTF 2.0 JSON that we read, typed after the specification. All of it may be missing or wrong. */
export interface RawGltf {
  asset?: { version?: string; generator?: string; minVersion?: string };
  scene?: number;
  scenes?: { name?: string; nodes?: number[] }[];
  nodes?: RawNode[];
  meshes?: { name?: string; primitives?: RawPrimitive[]; weights?: number[] }[];
  skins?: { name?: string; joints?: number[]; inverseBindMatrices?: number; skeleton?: number }[];
  animations?: RawAnimation[];
  accessors?: RawAccessor[];
  bufferViews?: RawBufferView[];
  buffers?: { uri?: string; byteLength?: number; name?: string; extensions?: Record<string, unknown> }[];
  images?: { uri?: string; bufferView?: number; mimeType?: string; name?: string }[];
  materials?: RawMaterial[];
  textures?: { source?: number; sampler?: number; extensions?: object }[];
  samplers?: object[];
  cameras?: { type?: string; perspective?: object; orthographic?: object }[];
  extensions?: Record<string, unknown>;
  extensionsUsed?: string[];
  extensionsRequired?: string[];
}

/** How a material shows an image. */
export interface RawTextureInfo {
  index?: number;
  texCoord?: number;
  extensions?: {
    KHR_texture_transform?: { offset?: number[]; scale?: number[]; rotation?: number; texCoord?: number };
  };
}

export interface RawMaterial {
  name?: string;
  pbrMetallicRoughness?: { baseColorTexture?: RawTextureInfo; metallicRoughnessTexture?: RawTextureInfo };
  normalTexture?: RawTextureInfo & { scale?: number };
  alphaMode?: string;
  alphaCutoff?: number;
  occlusionTexture?: RawTextureInfo;
  emissiveTexture?: RawTextureInfo;
}

export interface RawNode {
  name?: string;
  children?: number[];
  mesh?: number;
  camera?: number;
  skin?: number;
  matrix?: number[];
  translation?: number[];
  rotation?: number[];
  scale?: number[];
  extensions?: Record<string, unknown>;
}

export interface RawPrimitive {
  attributes?: Record<string, number>;
  indices?: number;
  material?: number;
  mode?: number;
  targets?: Record<string, number>[];
  extensions?: Record<string, unknown>;
}

export interface RawAnimation {
  name?: string;
  channels?: { sampler?: number; target?: { node?: number; path?: string } }[];
  samplers?: { input?: number; output?: number; interpolation?: string }[];
}

export interface RawAccessor {
  bufferView?: number;
  byteOffset?: number;
  componentType?: number;
  count?: number;
  type?: string;
  normalized?: boolean;
  sparse?: {
    count?: number;
    indices?: { bufferView?: number; byteOffset?: number; componentType?: number };
    values?: { bufferView?: number; byteOffset?: number };
  };
}

export interface RawBufferView {
  buffer?: number;
  byteOffset?: number;
  byteLength?: number;
  byteStride?: number;
  extensions?: Record<
    string,
    { buffer?: number; byteOffset?: number; byteLength?: number; count?: number; byteStride?: number }
  >;
}

export const COMPONENT_BYTES: Readonly<Record<number, number>> = {
  5120: 1,
  5121: 1,
  5122: 2,
  5123: 2,
  5125: 4,
  5126: 4,
};

export const TYPE_WIDTH: Readonly<Record<string, number>> = {
  SCALAR: 1,
  VEC2: 2,
  VEC3: 3,
  VEC4: 4,
  MAT2: 4,
  MAT3: 9,
  MAT4: 16,
};
