import { LineIcon } from './LineIcon.tsx';

/** Something put forward, not there yet: a dashed outline with a mark in it. */
export function SuggestIcon() {
  return (
    <LineIcon
      viewBox="0 0 16 16"
      path="M8 5.4 V10.6 M5.4 8 H10.6"
      faint="M4 1.5 H12 A2.5 2.5 0 0 1 14.5 4 V12 A2.5 2.5 0 0 1 12 14.5 H4 A2.5 2.5 0 0 1 1.5 12 V4 A2.5 2.5 0 0 1 4 1.5 Z"
      dashes="2.2 2.1"
    />
  );
}

/** Two sheets, one over the other. */
export function CompareIcon({ size }: { size?: number }) {
  return (
    <LineIcon
      {...(size !== undefined && { size })}
      viewBox="0 0 16 16"
      path="M6 6 H14.2 V14.2 H6 Z"
      faint="M4 10 H1.8 V1.8 H10 V4"
    />
  );
}
