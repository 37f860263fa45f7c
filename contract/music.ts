import 'reflect-metadata';
import { IsBoolean, IsInt, IsNumber, IsOptional, Max, Min } from 'class-validator';
import { Nested } from './decorators';
import type { Metronome } from '@ecoute/core/timing/accompaniment';
import { Voice } from './stimuli';

export class ItemMetronome implements Metronome {
  @IsNumber({ maxDecimalPlaces: 1 }, { message: 'A tempo is a number of beats a minute, such as 72.' })
  @Min(30, { message: 'A tempo is at least 30 beats a minute.' })
  @Max(240, { message: 'A tempo is at most 240 beats a minute.' })
  bpm!: number;

  @IsInt({ message: 'Beats in a bar are a whole number.' })
  @Min(1, { message: 'A bar has at least one beat.' })
  @Max(12, { message: 'A bar has at most twelve beats.' })
  beats!: number;

  @IsInt()
  @Min(0)
  @Max(4, { message: 'At most four bars are counted in.' })
  countInBars!: number;

  @IsBoolean()
  heard!: boolean;
}

/** What sounds along with a musical answer. Notes are MIDI numbers. */
export class ItemMusic {
  @IsOptional()
  @Nested(() => ItemMetronome)
  metronome!: ItemMetronome | null;

  @IsOptional()
  @IsInt()
  @Min(24)
  @Max(96)
  startingNote!: number | null;

  @IsOptional()
  @IsInt()
  @Min(24)
  @Max(96)
  drone!: number | null;

  @IsOptional()
  @Nested(() => Voice)
  backing!: Voice | null;
}

/** True when nothing sounds along: such music is none. */
export function isSilent(music: ItemMusic): boolean {
  return !music.metronome && music.startingNote === null && music.drone === null && !music.backing;
}
