/** What pages are told of measured takes. Types only: nothing here is ever sent to the server. */
import type { Evidence, Figure, Figures } from '@ecoute/core/audio/evidence';
import type { HeardAs } from '@ecoute/core/audio/measure';
import type { Usual } from '@ecoute/core/statistics/usual';

/** What is measured of one take. */
export type TakeEvidence =
  | { state: 'measuring' }
  /** Nothing could be measured; the recording itself may play all the same. */
  | { state: 'problem'; message: string }
  | { state: 'measured'; evidence: Evidence };

/** One take beside the others of a release. */
export interface MeasuredTake {
  as: HeardAs;
  figures: Figures;
  /** Beginnings and ends of its pauses in ms of the recording, one after the other. */
  pauses: number[];
}

export interface ReleaseEvidence {
  takes: Record<string, MeasuredTake>;
  /** By item, of the answers that count: what is usual, for the figures that enough of them have. */
  usual: Record<string, Partial<Record<Figure, Usual>>>;
}
