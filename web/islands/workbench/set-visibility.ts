import type { Session, Visibility } from '../../state/session.ts';
import type { Store } from '../../state/store.ts';

/** Shows, ghosts or hides one section. */
export function setVisibility(session: Store<Session>, sectionIndex: number, visibility: Visibility): void {
  session.set({ visibility: new Map(session.state.visibility).set(sectionIndex, visibility) });
}
