/** An earlier version of the character, and what it is called. */
export interface ViewedVersion {
  id: string;
  label: string;
  /** The state that a trial is of. */
  isTrial: boolean;
}
