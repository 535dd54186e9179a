import type { Store } from './store.ts';

/** Does something of which a store tells why it was not done. */
export async function tryAction<T extends { failure: string | null }>(
  store: Store<T>,
  action: () => Promise<void>,
): Promise<void> {
  const tell = (failure: string | null): void => store.set({ failure } as Partial<T>);
  try {
    tell(null);
    await action();
  } catch (error) {
    tell((error as Error).message);
  }
}
