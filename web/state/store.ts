import { useSyncExternalStore } from 'react';

/** A value outside React that components read through selectors. */
export class Store<T extends object> {
  #state: T;
  readonly #listeners = new Set<() => void>();

  constructor(state: T) {
    this.#state = state;
  }

  get state(): T {
    return this.#state;
  }

  set(update: Partial<T>): void {
    const isSame = (Object.keys(update) as (keyof T)[]).every((key) =>
      Object.is(this.#state[key], update[key]),
    );
    if (isSame) return;
    this.#state = { ...this.#state, ...update };
    for (const listener of this.#listeners) listener();
  }

  subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };
}

/** Reads a part of a store; the component renders anew when that part changes. The part must be a stored value. */
export function useStore<T extends object, S>(store: Store<T>, select: (state: T) => S): S {
  const read = (): S => select(store.state);
  return useSyncExternalStore(store.subscribe, read, read);
}
