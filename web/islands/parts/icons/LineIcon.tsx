export interface LineIconProps {
  /** Of the strong line, SVG path data. */
  path: string;
  /** Of the faint line behind it: how it was before, or the other one of two. */
  faint?: string;
  /** Dashes of the faint line. */
  dashes?: string;
  viewBox?: string;
  size?: number;
}

/** A small drawing of our own: a strong line over a faint one, in the colour of the text. */
export function LineIcon({ path, faint, dashes, viewBox = '0 0 20 14', size = 14 }: LineIconProps) {
  const [, , width, height] = viewBox.split(' ').map(Number) as [number, number, number, number];
  return (
    <svg
      viewBox={viewBox}
      width={(size * width) / height}
      height={size}
      fill="none"
      stroke="currentColor"
      strokeLinecap="round"
      strokeLinejoin="round"
      className="shrink-0"
      aria-hidden
    >
      {faint && <path d={faint} strokeWidth="1.1" strokeDasharray={dashes} opacity="0.6" />}
      <path d={path} strokeWidth="1.7" />
    </svg>
  );
}
