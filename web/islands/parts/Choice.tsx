import { RadioGroup } from 'radix-ui';
import type { ReactNode } from 'react';

export interface ChoiceOption<T extends string> {
  value: T;
  label: ReactNode;
  hint?: string | undefined;
  /** What it is called when its label is a picture. */
  name?: string | undefined;
}

export interface ChoiceProps<T extends string> {
  /** What is chosen, for who cannot see it. */
  label: string;
  /** Null when several things have several values. */
  value: T | null;
  options: readonly ChoiceOption<T>[];
  onChange(value: T): void;
  /** `chips` stand apart, `cells` share one frame, `tiles` are taller. */
  look?: 'chips' | 'cells' | 'tiles' | 'pills';
  columns?: number;
}

const ROOTS = {
  chips: 'flex flex-wrap gap-1.5',
  cells: 'grid gap-px overflow-hidden rounded-md border border-line bg-line',
  tiles: 'grid gap-1.5',
  pills: 'scroll-hint flex min-w-0 gap-0.5 overflow-x-auto',
};

const ITEMS = {
  chips: 'chip',
  cells:
    'flex items-center justify-center gap-1.5 bg-surface px-2 py-1 font-semibold whitespace-nowrap data-[state=checked]:bg-teal data-[state=checked]:text-on-accent',
  tiles:
    'rounded-md border border-line bg-surface px-2 py-1 text-left data-[state=checked]:border-teal data-[state=checked]:bg-teal-wash',
  pills:
    'shrink-0 rounded-full px-3 py-1 text-soft hover:bg-paper data-[state=checked]:bg-teal data-[state=checked]:font-semibold data-[state=checked]:text-on-accent',
};

/** One of several, of which one always holds; arrow keys move within it. */
export function Choice<T extends string>(props: ChoiceProps<T>) {
  const { label, value, options, onChange, look = 'chips', columns = options.length } = props;
  const isGrid = look === 'cells' || look === 'tiles';
  return (
    <RadioGroup.Root
      aria-label={label}
      value={value}
      onValueChange={(next) => onChange(next as T)}
      className={ROOTS[look]}
      {...(isGrid && { style: { gridTemplateColumns: `repeat(${columns}, minmax(0, 1fr))` } })}
    >
      {options.map((option) => (
        <RadioGroup.Item
          key={option.value}
          value={option.value}
          title={option.hint}
          aria-label={option.name}
          className={ITEMS[look]}
        >
          {option.label}
        </RadioGroup.Item>
      ))}
    </RadioGroup.Root>
  );
}
