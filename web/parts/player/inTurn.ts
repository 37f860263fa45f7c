/** Several sounds one after the other: the answers of a bar, of an item, of one student. */
import { useSyncExternalStore } from 'react';
import type { Player, PlayerState, Track } from './player';
import { player } from './usePlayer';

export interface Turn {
  /** What these are, in a few words. */
  of: string;
  tracks: readonly Track[];
  /** Which of them has its turn, from 0. */
  at: number;
}

/** A small state machine over the player: whoever plays something else ends it. */
export class InTurn {
  private turn: Turn | null = null;
  /** The player is being told: what it says meanwhile is our own doing. */
  private isTelling = false;
  private readonly listeners = new Set<() => void>();

  constructor(private readonly plays: Pick<Player, 'play' | 'pause' | 'onEnd' | 'now' | 'subscribe'>) {
    plays.onEnd(id => {
      if (this.turn && this.turn.tracks[this.turn.at]?.id === id) this.goTo(this.turn.at + 1);
    });
    plays.subscribe(() => {
      // Another sound was begun by hand, or the transport closed.
      if (this.turn && !this.isTelling && this.isOther(plays.now())) this.set(null);
    });
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
  begin(of: string, tracks: readonly Track[], at = 0): void {
    if (tracks.length === 0) return;
    this.play({ of, tracks, at });
  }

  private play(turn: Turn): void {
    this.isTelling = true;
    void this.plays.play(turn.tracks[turn.at]);
    this.isTelling = false;
    this.set(turn);
  }

  /** To another of them; behind the last it is over. */
  goTo(at: number): void {
    if (!this.turn) return;
    if (at >= this.turn.tracks.length) this.set(null);
    else if (at >= 0) this.play({ ...this.turn, at });
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
