import type { ReactNode } from 'react';
import type { Refusal } from '../../../base/api';

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
  /** What is drawn on while it records. */
  board?: ReactNode;
  /** Beneath the prompt. */
  under?: ReactNode;
  /** Takes, notices, other ways. */
  answer: ReactNode;
  /** The one thing to press, with its clock. */
  bar?: ReactNode;
}

export type Frame = (parts: StageParts) => ReactNode;

/** What is asked is covered until its time begins. */
export interface Veil {
  /** A prompt sounds first. */
  isVoiced: boolean;
  /** Here already, and only covered; else the server has it. */
  isHere: boolean;
  /** Asks the server for it. */
  show: () => void;
  isShowing: boolean;
  /** Why it could not be had. */
  trouble: Refusal | null;
}
