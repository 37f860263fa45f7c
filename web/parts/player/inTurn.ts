/** Several sounds one after the other: the answers of a bar, of an item, of one student. */
import { useSyncExternalStore } from 'react';
import type { Player, PlayerState, Track } from './player';
import { player } from './usePlayer';

/** A sound, or a stretch of one (in ms), that has its turn. */
export interface InLine extends Track {
  stretch?: { fromMs: number; toMs: number };
}

export interface Turn {
  /** What these are, in a few words. */
  of: string;
  tracks: readonly InLine[];
  /** Which of them has its turn, from 0. */
  at: number;
}

/** A small state machine over the player: whoever plays something else ends it. */
export class InTurn {
  private turn: Turn | null = null;
  /** The stretch of the present turn has begun: its end is waited for. */
  private isInStretch = false;
  /** The player is being told: what it says meanwhile is our own doing. */
  private isTelling = false;
  private readonly listeners = new Set<() => void>();

  constructor(
    private readonly plays: Pick<Player, 'play' | 'pause' | 'seek' | 'load' | 'onEnd' | 'now' | 'subscribe'>,
  ) {
    plays.onEnd(id => {
      if (this.turn && this.turn.tracks[this.turn.at]?.id === id) this.goTo(this.turn.at + 1);
    });
    plays.subscribe(() => {
      // Another sound was begun by hand, or the transport closed.
      if (this.turn && !this.isTelling && this.isOther(plays.now())) return this.set(null);
      this.look(plays.now());
    });
  }

  /** A stretch is over before its sound is. */
  private look({ playing, positionMs }: PlayerState): void {
    const stretch = this.turn?.tracks[this.turn.at]?.stretch;
    if (!stretch || this.isTelling || !playing) return;
    if (positionMs >= stretch.fromMs && positionMs < stretch.toMs) this.isInStretch = true;
    else if (this.isInStretch && positionMs >= stretch.toMs) this.goTo(this.turn!.at + 1);
  }

  private isOther({ track }: PlayerState): boolean {
    return track?.id !== this.turn!.tracks[this.turn!.at]?.id;
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  readonly now = (): Turn | null => this.turn;

  private set(turn: Turn | null): void {
    if (turn === this.turn) return;
    this.turn = turn;
    this.listeners.forEach(listener => listener());
  }

  /** Plays them from one of them on. None: nothing is begun. */
  begin(of: string, tracks: readonly InLine[], at = 0): void {
    if (tracks.length === 0) return;
    this.play({ of, tracks, at });
  }

  private play(turn: Turn): void {
    this.isTelling = true;
    this.isInStretch = false;
    const { stretch, ...track } = turn.tracks[turn.at]!;
    if (stretch) {
      this.plays.load(track);
      this.plays.seek(stretch.fromMs);
      void this.plays.play();
    } else {
      // The same sound once more, after a stretch of it: from its beginning.
      if (this.plays.now().track?.id === track.id && this.turn) this.plays.seek(0);
      void this.plays.play(track);
    }
    this.isTelling = false;
    this.set(turn);
  }

  /** To another of them; behind the last it is over. */
  goTo(at: number): void {
    if (!this.turn) return;
    if (at >= this.turn.tracks.length) {
      // A stretch ends where its sound goes on.
      if (this.turn.tracks.at(-1)?.stretch) this.plays.pause();
      this.set(null);
    } else if (at >= 0) this.play({ ...this.turn, at });
  }

  /** No further one is played, and the present one stops. */
  end(): void {
    this.set(null);
    this.plays.pause();
  }
}

export const inTurn = new InTurn(player);

export function useInTurn(): Turn | null {
  return useSyncExternalStore(inTurn.subscribe, inTurn.now);
}
