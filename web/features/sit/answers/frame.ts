import type { ReactNode } from 'react';

/** What a way of answering puts into the stage around it. */
export interface StageParts {
  /** What goes on, in one word of the engine's; the focus follows it. */
  phase: string;
  /** The same for somebody who cannot see it. */
  says: string;
  /** Something runs that must not be left by accident: the stage fills the screen. */
  busy: boolean;
  isRecording?: boolean;
  /** There is an answer: going on is the next step. */
  done: boolean;
  /** Position of the playhead inside the item, in ms. */
  position: number;
  /** Beneath the prompt. */
  under?: ReactNode;
  /** Takes, notices, other ways. */
  answer: ReactNode;
  /** The one thing to press, with its clock. */
  bar?: ReactNode;
}

export type Frame = (parts: StageParts) => ReactNode;
