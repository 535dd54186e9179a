/** Messages are set in the application's own type. */
export const TOASTS = { style: { fontFamily: 'inherit' } } as const;
