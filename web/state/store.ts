import { useStore as useZustand } from 'zustand';
import { useShallow } from 'zustand/react/shallow';
import { createStore, type StoreApi } from 'zustand/vanilla';

/** A value outside React that components read through selectors. */
export class Store<T extends object> {
  readonly api: StoreApi<T>;

  constructor(state: T) {
    this.api = createStore(() => state);
  }

  get state(): T {
    return this.api.getState();
  }

  /** Tells nobody when nothing differs. */
  set(update: Partial<T>): void {
    const { state } = this;
    const isSame = (Object.keys(update) as (keyof T)[]).every((key) => Object.is(state[key], update[key]));
    if (!isSame) this.api.setState(update);
  }

  subscribe = (listener: () => void): (() => void) => this.api.subscribe(() => listener());
}

/** Reads a part of a store; the component renders anew when that part, or one of its fields, differs. */
export function useStore<T extends object, S>(store: Store<T>, select: (state: T) => S): S {
  return useZustand(store.api, useShallow(select));
}
