import type { Figures } from '@ecoute/core/audio/evidence';

/** An answer in the distribution of the class. */
export interface OtherAnswer {
  takeId: string;
  name: string;
  figures: Figures;
  /** The one that is looked at. */
  isThis: boolean;
}
