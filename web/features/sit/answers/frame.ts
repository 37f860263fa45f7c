import type { ReactNode } from 'react';

/** What a way of answering puts into the stage around it. */
export interface StageParts {
  /** Something runs that must not be left by accident. */
  busy: boolean;
  /** There is an answer: going on is the next step. */
  done: boolean;
  /** Position of the playhead inside the item, in ms. */
  position: number;
  /** Beneath the prompt. */
  under?: ReactNode;
  answer: ReactNode;
}

export type Frame = (parts: StageParts) => ReactNode;
