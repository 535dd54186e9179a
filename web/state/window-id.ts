const KEY = 'window-id';

/** One text for this window, as long as it is open; it tells who saved what. */
export function getWindowId(): string {
  // Outside a page (in tests) there is no storage.
  const storage = globalThis.sessionStorage as Storage | undefined;
  const known = storage?.getItem(KEY);
  if (known) return known;
  const made = crypto.randomUUID();
  storage?.setItem(KEY, made);
  return made;
}
