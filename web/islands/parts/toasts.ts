/** Messages are set in the application's own type and colours. */
export const TOASTS = {
  style: {
    fontFamily: 'inherit',
    background: 'var(--color-surface)',
    color: 'var(--color-ink)',
    borderColor: 'var(--color-line)',
  },
} as const;
