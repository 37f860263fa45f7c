/** What an open page is told of, by server-sent events: that something changed, and no content of it. */
export type ChangeKind =
  | 'release'
  | 'class'
  | 'todo'
  | 'feedback'
  | 'calendar'
  | 'sitting'
  | 'listening'
  /** Something was said in a discussion, or is heard no more. */
  | 'discussion'
  /** One contribution has come, and can be heard; its id. */
  | 'said'
  /** A spoken message: sent, taken back, heard. */
  | 'message'
  /** A run of turns: begun, gone on, joined. */
  | 'together'
  | 'evidence'
  /** A recording was looked at: whoever sends it need not ask. */
  | 'recording'
  /** Sessions of somebody were ended. */
  | 'session';

export interface Told {
  kind: ChangeKind;
  id: string | null;
}
