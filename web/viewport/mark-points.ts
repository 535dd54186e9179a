import {
  type BufferAttribute,
  BufferGeometry,
  CanvasTexture,
  type Object3D,
  Points,
  PointsMaterial,
  Uint32BufferAttribute,
} from 'three';

/** Diamonds on vertices that a finding is about, seen through everything. */
export class MarkPoints {
  readonly points: Points<BufferGeometry, PointsMaterial>;

  /** @param source - Drawn mesh whose vertices are marked; the marks move with it. */
  constructor(source: BufferGeometry, vertices: Uint32Array) {
    const geometry = new BufferGeometry();
    geometry.setAttribute('position', source.attributes.position as BufferAttribute);
    geometry.setIndex(new Uint32BufferAttribute(vertices, 1));
    this.points = new Points(
      geometry,
      new PointsMaterial({
        map: drawDiamond(),
        size: 9,
        sizeAttenuation: false,
        transparent: true,
        depthTest: false,
        alphaTest: 0.3,
      }),
    );
    this.points.frustumCulled = false;
    this.points.renderOrder = 5;
  }

  addTo(parent: Object3D): void {
    parent.add(this.points);
  }

  dispose(): void {
    this.points.removeFromParent();
    this.points.geometry.dispose();
    this.points.material.map?.dispose();
    this.points.material.dispose();
  }
}

function drawDiamond(): CanvasTexture {
  const canvas = document.createElement('canvas');
  canvas.width = canvas.height = 18;
  const context = canvas.getContext('2d')!;
  context.beginPath();
  context.moveTo(9, 1);
  context.lineTo(17, 9);
  context.lineTo(9, 17);
  context.lineTo(1, 9);
  context.closePath();
  context.fillStyle = '#AE3A2C';
  context.fill();
  context.lineWidth = 2;
  context.strokeStyle = '#FCFAF5';
  context.stroke();
  return new CanvasTexture(canvas);
}
