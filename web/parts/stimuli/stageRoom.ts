import { createContext } from 'react';

export interface Room {
  /** What the stage has for what is read or played from, in px. */
  heightPx: number;
  /** How large its reader wants it, as a part of the usual. */
  size: number;
}

/** The stage around what is read or played from, so that a score can be drawn to fit; null on a page, where it is as high as it is. */
export const StageRoom = createContext<Room | null>(null);
