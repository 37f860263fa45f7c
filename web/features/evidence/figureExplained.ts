import type { Figure } from '@ecoute/core/audio/evidence';

/** What each figure is and how it comes about, in a sentence for a teacher. */
export const FIGURE_EXPLAINED: Record<Figure, string> = {
  speakingSec: 'How long the voice sounds, without the pauses.',
  initialSilenceSec: 'From the beginning of the answer to the first sound of the voice.',
  latencySec: 'From the beginning of a gap to the first sound in it; of all gaps the one in the middle.',
  wordsPerMinute: 'Words of the passage in a minute, from the first sound of the reading to the last.',
  articulationRate:
    'How quick the speech itself is: syllables, counted in the sound, for each second in which the voice sounds.',
  speechRate:
    'How quickly one gets through it: the same syllables for each second from the first sound to the last, pauses among them.',
  pauseCount: 'Silences of a quarter of a second and more between the first sound and the last.',
  longestPauseSec: 'The longest of these silences.',
  meanRunSec: 'How long the voice goes on from one pause to the next, on average.',
  sentencePauses: 'At so many ends of sentences inside the passage the reader paused.',
  insidePauses: 'Pauses that fall inside a sentence, where no sign of the text asks for one.',
  rangeSemitones:
    'From the lower to the higher end of what the voice mostly does; twelve half tones are an octave.',
  playedPercent: 'Notes of the score that were heard in the recording, of all that it has.',
  extraNotes:
    'Notes in the recording that stand nowhere in the score: wrong ones, repeated ones, corrections.',
  noteCount: 'Notes that were told apart in the recording.',
  offCents:
    'How far a note lies from where it should, sharp or flat; of all notes the one in the middle. A hundred cents are a half tone; few ears hear less than ten.',
  tuningCents:
    'How much higher (+) or lower (−) than A = 440 Hz all of it is tuned. It is taken out before single notes are judged.',
  offMs:
    'How far a note begins from where the score and the tempo of the playing put it, early or late; of all notes the one in the middle.',
  beatMs:
    'How far a note begins from the metronome’s beat, early or late; of all notes the one in the middle.',
  bpm: 'How fast it was played, on the whole.',
  driftPercent: 'How much faster (+) or slower (−) the last quarter is than the first.',
  steadyPercent: 'How even the beat is from one note to the next; a machine has 100 %.',
};
