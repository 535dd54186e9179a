/**
 * What the page keeps in the browser, in memory, empty before each test of a suite.
 * @returns What is kept, by key.
 */
export function useLocalStorage(): Map<string, string> {
  const kept = new Map<string, string>();
  const before = Object.getOwnPropertyDescriptor(globalThis, 'localStorage');
  beforeEach(() => {
    kept.clear();
    Object.defineProperty(globalThis, 'localStorage', {
      configurable: true,
      value: {
        getItem: (key: string) => kept.get(key) ?? null,
        setItem: (key: string, value: string) => void kept.set(key, value),
      },
    });
  });
  after(() => {
    if (before) Object.defineProperty(globalThis, 'localStorage', before);
    else Reflect.deleteProperty(globalThis, 'localStorage');
  });
  return kept;
}
