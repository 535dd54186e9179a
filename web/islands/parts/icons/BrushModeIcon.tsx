import type { BrushMode } from '../../../../core/reach/index.ts';
import { LineIcon, type LineIconProps } from './LineIcon.tsx';

/** What each mode makes of the values along a line: before faint, afterwards strong. */
const PROFILES: Readonly<Record<BrushMode, Pick<LineIconProps, 'path' | 'faint' | 'dashes'>>> = {
  value: { path: 'M1 12 C5 12 4 4 7 4 H13 C16 4 15 12 19 12', faint: 'M1 4 H19', dashes: '1 2.2' },
  raise: {
    path: 'M1 7 C6 7 6 1.5 10 1.5 S14 7 19 7',
    faint: 'M1 7 C6 7 6 12.5 10 12.5 S14 7 19 7',
    dashes: '1.6 1.8',
  },
  multiply: {
    path: 'M1 12.5 C6 12.5 7 1.5 10 1.5 S14 12.5 19 12.5',
    faint: 'M1 12.5 C6 12.5 7 8 10 8 S14 12.5 19 12.5',
  },
  evenOut: {
    path: 'M1 8.5 C6 6 14 6 19 8.5',
    faint: 'M1 9 L4 2 L7.5 12 L10.5 2.5 L13.5 11.5 L16.5 3.5 L19 9',
  },
  contrast: { path: 'M1 12.5 C10 12.5 10 12 10 7 S10 1.5 19 1.5', faint: 'M1 10 C6 9.5 14 4.5 19 4' },
  clear: { path: 'M1 12.5 H19', faint: 'M1 12 C6 12 6.5 2 10 2 S14 12 19 12', dashes: '1.6 1.8' },
};

export function BrushModeIcon({ mode }: { mode: BrushMode }) {
  return <LineIcon {...PROFILES[mode]} size={12} />;
}
