import { Toggle } from 'radix-ui';
import type { ReactNode } from 'react';

export interface ToggleChipProps {
  label: string;
  isOn: boolean;
  hint?: string | undefined;
  onToggle(isOn: boolean): void;
  /** In place of the label, which then only names it. */
  children?: ReactNode;
  className?: string;
}

/** Something that is on or off. */
export function ToggleChip({ label, isOn, hint, onToggle, children, className = 'chip' }: ToggleChipProps) {
  return (
    <Toggle.Root
      pressed={isOn}
      onPressedChange={onToggle}
      title={hint}
      className={className}
      {...(children !== undefined && { 'aria-label': label })}
    >
      {children ?? label}
    </Toggle.Root>
  );
}
