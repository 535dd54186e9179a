import { Mesh, PlaneGeometry, ShaderMaterial, Vector2 } from 'three';

const VERTEX = `
  varying vec2 vPlace;
  void main() {
    vPlace = (modelMatrix * vec4(position, 1.0)).xz;
    gl_Position = projectionMatrix * viewMatrix * modelMatrix * vec4(position, 1.0);
  }`;

/** Dots every 20 cm that fade with distance, and a soft shade where the figure stands. */
const FRAGMENT = `
  varying vec2 vPlace;
  uniform vec2 offset;
  uniform vec2 stand;
  void main() {
    vec2 cell = fract((vPlace + offset) / 0.2) - 0.5;
    float pixel = fwidth(vPlace.x + vPlace.y) / 0.2;
    float dotShare = 1.0 - smoothstep(0.025, 0.025 + 1.2 * pixel, length(cell));
    float fade = 1.0 - smoothstep(0.5, 2.1, length(vPlace - stand));
    vec2 away = (vPlace - stand) / vec2(0.34, 0.3);
    float shade = 0.26 * exp(-dot(away, away));
    gl_FragColor = vec4(0.25, 0.235, 0.21, max(shade, 0.42 * dotShare * fade));
  }`;

/** The ground: it moves back under a travelling clip, so that planted feet stay put on it. */
export class Floor {
  readonly mesh: Mesh<PlaneGeometry, ShaderMaterial>;

  constructor() {
    const material = new ShaderMaterial({
      vertexShader: VERTEX,
      fragmentShader: FRAGMENT,
      uniforms: { offset: { value: new Vector2() }, stand: { value: new Vector2() } },
      transparent: true,
      depthWrite: false,
    });
    this.mesh = new Mesh(new PlaneGeometry(6, 6), material);
    this.mesh.rotation.x = -Math.PI / 2;
    this.mesh.renderOrder = -1;
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
