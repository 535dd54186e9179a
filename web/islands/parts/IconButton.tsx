import type { ReactNode } from 'react';

export interface IconButtonProps {
  /** What it is called. */
  label: string;
  /** What it does, at length; the label without. */
  title?: string;
  icon: ReactNode;
  isDisabled?: boolean;
  className?: string;
  onClick(): void;
}

/** A button with a picture in the place of words. */
export function IconButton({
  label,
  title = label,
  icon,
  isDisabled = false,
  className = '',
  onClick,
}: IconButtonProps) {
  return (
    <button
      type="button"
      className={`btn ${className}`}
      aria-label={label}
      title={title}
      disabled={isDisabled}
      onClick={onClick}
    >
      {icon}
    </button>
  );
}
