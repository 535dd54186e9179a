import { Mesh, PlaneGeometry, ShaderMaterial, Vector2 } from 'three';
import { USUAL_SIZE } from '../../core/rig/index.ts';
import { GROUND_COLORS } from './ground-colors.ts';

const VERTEX = `
  varying vec2 vPlace;
  void main() {
    vPlace = (modelMatrix * vec4(position, 1.0)).xz;
    gl_Position = projectionMatrix * viewMatrix * modelMatrix * vec4(position, 1.0);
  }`;

/** Between the dots, beneath a figure of usual size, m. */
const USUAL_STEP = 0.2;

/** Dots that fade with distance, and a soft shade where the figure stands. */
const FRAGMENT = `
  varying vec2 vPlace;
  uniform vec2 offset;
  uniform vec2 stand;
  uniform float dotStep;
  uniform float scale;
  uniform vec3 dots;
  void main() {
    vec2 cell = fract((vPlace + offset) / dotStep) - 0.5;
    float pixel = fwidth(vPlace.x + vPlace.y) / dotStep;
    float dotShare = 1.0 - smoothstep(0.025, 0.025 + 1.2 * pixel, length(cell));
    float fade = 1.0 - smoothstep(0.5, 2.1, length(vPlace - stand) / scale);
    vec2 away = (vPlace - stand) / (scale * vec2(0.34, 0.3));
    float shade = 0.26 * exp(-dot(away, away));
    float dotted = 0.42 * dotShare * fade;
    gl_FragColor = vec4(mix(vec3(0.05, 0.045, 0.035), dots, dotted / max(dotted + shade, 0.001)), max(shade, dotted));
    #include <colorspace_fragment>
  }`;

/** The ground: it moves back under a travelling clip, so that planted feet stay put on it. */
export class Floor {
  readonly mesh: Mesh<PlaneGeometry, ShaderMaterial>;

  constructor() {
    const material = new ShaderMaterial({
      vertexShader: VERTEX,
      fragmentShader: FRAGMENT,
      uniforms: {
        offset: { value: new Vector2() },
        stand: { value: new Vector2() },
        dotStep: { value: USUAL_STEP },
        scale: { value: 1 },
        dots: { value: GROUND_COLORS.dots },
      },
      transparent: true,
      depthWrite: false,
    });
    this.mesh = new Mesh(new PlaneGeometry(6, 6), material);
    this.mesh.rotation.x = -Math.PI / 2;
    this.mesh.renderOrder = -1;
  }

  /** Lies beneath a figure. Dots stand 1, 2 or 5 times a power of ten apart. @param size - m. @param height - m. */
  fit(size: number, height: number): void {
    const scale = size / USUAL_SIZE;
    const { uniforms } = this.mesh.material;
    uniforms.scale!.value = scale;
    uniforms.dotStep!.value = roundStep(USUAL_STEP * scale);
    this.mesh.scale.setScalar(scale);
    this.mesh.position.y = height;
  }

  /** @param x, z - How far the ground has moved back, metres. @param standX, standZ - Where the figure is. */
  update(x: number, z: number, standX: number, standZ: number): void {
    this.mesh.material.uniforms.offset!.value.set(x, z);
    this.mesh.material.uniforms.stand!.value.set(standX, standZ);
  }

  dispose(): void {
    this.mesh.geometry.dispose();
    this.mesh.material.dispose();
  }
}

/** The nearest of 1, 2 and 5 times a power of ten. */
export function roundStep(value: number): number {
  const power = 10 ** Math.floor(Math.log10(value));
  const candidates = [power, 2 * power, 5 * power, 10 * power];
  return candidates.reduce((best, each) =>
    Math.abs(Math.log(each / value)) < Math.abs(Math.log(best / value)) ? each : best,
  );
}
