import type { Figure } from '@ecoute/core/audio/evidence';

/** What a figure is, what is usual, and what to listen for: each in a sentence, for somebody who teaches and measures nothing. */
export interface Explained {
  is: string;
  usual: string;
  listen: string;
}

const OTHERS = 'It depends on the task: the answers of the others are the measure.';

export const FIGURE_EXPLAINED: Record<Figure, Explained> = {
  speakingSec: {
    is: 'How long the voice sounds, without the pauses.',
    usual: OTHERS,
    listen: 'Does the answer say what was asked, or only go on?',
  },
  initialSilenceSec: {
    is: 'From the beginning of the answer to the first sound of the voice.',
    usual: 'One or two seconds are nobody’s hesitation; after no time to prepare it may be more.',
    listen: 'Is it a breath, a search for the first word, or a late finger on the button?',
  },
  latencySec: {
    is: 'From the beginning of a gap to the first sound in it; of all gaps the one in the middle.',
    usual: 'Between people who know a language well a quarter to half a second; learners take one or two.',
    listen: 'Was the question understood at once, or was the answer being put together?',
  },
  wordsPerMinute: {
    is: 'Words of the passage in a minute, from the first sound of the reading to the last.',
    usual: 'Who reads aloud in a language of their own makes 140 to 180; learners half of that and more.',
    listen: 'Would a listener follow? Quicker is not better.',
  },
  articulationRate: {
    is: 'How quick the speech itself is: syllables, counted in the sound, for each second in which the voice sounds.',
    usual: 'In a language of one’s own four to seven, by language and person; learners often two to four.',
    listen: 'Are the words joined, or set down one by one?',
  },
  speechRate: {
    is: 'How quickly one gets through it: the same syllables for each second from the first sound to the last, pauses among them.',
    usual: 'A quarter to a third less than the pace while speaking.',
    listen: 'If it is much less, the time goes into pauses: where do they fall?',
  },
  pauseCount: {
    is: 'Silences of a quarter of a second and more between the first sound and the last.',
    usual: 'One for each sentence or breath; what counts is where they are.',
    listen: 'Do they fall between thoughts, or in the middle of one?',
  },
  longestPauseSec: {
    is: 'The longest of these silences.',
    usual: 'Up to a second is a breath or the end of a sentence.',
    listen: 'What comes after it: a new thought, or the word that was looked for?',
  },
  meanRunSec: {
    is: 'How long the voice goes on from one pause to the next, on average.',
    usual: 'Two to three seconds in free speech of practised speakers; learners one to two.',
    listen: 'Does a whole phrase come in one breath?',
  },
  sentencePauses: {
    is: 'At so many ends of sentences inside the passage the reader paused.',
    usual: 'At nearly all of them.',
    listen: 'Does the voice fall before the pause?',
  },
  insidePauses: {
    is: 'Pauses that fall inside a sentence, where no sign of the text asks for one.',
    usual: 'None or one in a short passage.',
    listen: 'Is the next word a hard one, or did the breath end?',
  },
  rangeSemitones: {
    is: 'From the lower to the higher end of what the voice mostly does; twelve half tones are an octave.',
    usual: 'Six to twelve where somebody tells something; three or four sound flat.',
    listen: 'Does the melody serve the sense, or is each sentence sung alike?',
  },
  playedPercent: {
    is: 'How much of the score, or of the model, was heard in the recording: of its notes, or where several sound at once of its moments.',
    usual: 'All of it; a soft note now and then is not heard.',
    listen: 'Was it left out, or only too soft?',
  },
  extraNotes: {
    is: 'Notes in the recording that are neither in the score nor in the model: wrong ones, repeated ones, corrections.',
    usual: 'None.',
    listen: 'Was a slip put right, or did the hand go astray?',
  },
  restarts: {
    is: 'How often it was broken off and begun again, from the same bar or an earlier one.',
    usual: 'None in a performance; in practice as often as one likes.',
    listen: 'What comes just before the stop: that is the place to practise.',
  },
  waits: {
    is: 'How often a moment came clearly later than the playing around it led one to expect.',
    usual: 'None, or one at the end of a phrase.',
    listen: 'Is it a breath of the music, or a hand that looks for its place?',
  },
  noteCount: {
    is: 'Notes that were told apart in the recording.',
    usual: OTHERS,
    listen: 'Are notes joined that should be two?',
  },
  offCents: {
    is: 'How far a note lies from where it should, sharp or flat; of all notes the one in the middle. A hundred cents are a half tone.',
    usual: 'Good players keep within ten to fifteen; few ears hear less than ten.',
    listen: 'Is it always the same note, or always the same direction?',
  },
  tuningCents: {
    is: 'How much higher (+) or lower (−) than A = 440 Hz all of it is tuned. It is taken out before single notes are judged.',
    usual: 'Within twenty; a cold instrument is lower.',
    listen: 'Does it agree with the piano it will be played with?',
  },
  offMs: {
    is: 'How far a note begins from where the score and the tempo of the playing put it, early or late; of all notes the one in the middle. A thousand ms are a second.',
    usual: 'Under thirty sounds together; from sixty on one hears it.',
    listen: 'Do short notes hurry, or long ones end early?',
  },
  beatMs: {
    is: 'How far a note begins from the metronome’s beat, early or late; of all notes the one in the middle. A thousand ms are a second.',
    usual: 'Under thirty sounds together; a little early is usual.',
    listen: 'Does it lean against the beat, or run from it?',
  },
  bpm: {
    is: 'How fast it was played, on the whole.',
    usual: 'What the score or the task asks for.',
    listen: 'Is it a tempo at which nothing trips?',
  },
  driftPercent: {
    is: 'How much faster (+) or slower (−) the last quarter is than the first.',
    usual: 'Within five; an ending that broadens is slower.',
    listen: 'Does it run away where it is easy?',
  },
  steadyPercent: {
    is: 'How even the beat is from one note to the next; a machine has 100 %.',
    usual: 'Over 90 for a steady piece; free playing has less, and may.',
    listen: 'Where does it stumble, and is it there each time?',
  },
};
