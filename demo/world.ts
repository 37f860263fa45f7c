/**
 * The demo world: Brackwater Evening School. Everything here is made up. The generator turns it into sound,
 * the loader into rows; both read this one description.
 */

import type { MiscueMark } from '@ecoute/core/feedback/runningRecord';
import type { SimulatedClass } from '../server/platform/config';

/** The comments that Inês keeps, and her small praise. */
export const bank = [
  {
    owner: 'ines',
    name: 'Sounds',
    praise: false,
    comments: [
      { words: 'The nasal vowel in “pão” is right, {name}.', link: '' },
      { words: 'Listen to the end of the word: it is almost gone at {time}.', link: '' },
      { words: 'The “lh” is one sound, not two.', link: 'https://brackwater.example/sounds/lh' },
    ],
  },
  {
    owner: 'ines',
    name: 'Flow',
    praise: false,
    comments: [
      { words: 'Sentences hang together well.', link: '' },
      { words: 'Shorter pauses between the sentences next time.', link: '' },
    ],
  },
  {
    owner: 'ines',
    name: 'Praise',
    praise: true,
    comments: [
      { words: 'A voice to listen to', link: '' },
      { words: 'Braver than last week', link: '' },
    ],
  },
  {
    owner: 'tobias',
    name: 'Breath and tone',
    praise: false,
    comments: [
      { words: 'Breathe before the upbeat, not on it.', link: '' },
      { words: 'The low D speaks cleanly now.', link: '' },
    ],
  },
];

export const DEMO_PASSWORD = 'harbour-lights';

export interface DemoPerson {
  key: string;
  name: string;
  signIn: string;
}

export interface DemoVoice {
  /** espeak-ng voice and variant. */
  voice: string;
  wordsPerMinute: number;
  pitch: number;
  /** Room: how far above silence the noise lies, dB below the voice. */
  noiseDb: number;
  gainDb: number;
}

export const teachers: DemoPerson[] = [
  { key: 'ines', name: 'Inês Caldeira', signIn: 'ines@brackwater.example' },
  { key: 'tobias', name: 'Tobias Rennick', signIn: 'tobias@brackwater.example' },
];

const student = (key: string, name: string): DemoPerson => ({
  key,
  name,
  signIn: `${key}@brackwater.example`,
});

export const languageStudents: DemoPerson[] = [
  student('amara', 'Amara Okonjo-Reyes'),
  student('bram', 'Bram Ottevaere'),
  student('chiyo', 'Chiyo Hanamura'),
  student('dilnoza', 'Dilnoza Yusupova'),
  student('emrys', 'Emrys Pritchard'),
  student('farid', 'Farid Benamrouche'),
  student('greta', 'Greta Lindqvist'),
  student('hamish', 'Hamish Macrury'),
  student('ilse', 'Ilse Vandermolen'),
  student('jovan', 'Jovan Petrakov'),
  student('kamala', 'Kamala Sundaresan'),
  student('leopold', 'Leopold Achterberg'),
];

export const musicStudents: DemoPerson[] = [
  student('mireille', 'Mireille Tassin'),
  student('nuno', 'Nuno Farinha'),
  student('oksana', 'Oksana Hrytsenko'),
  student('pilar', 'Pilar Echeverry'),
  student('quentin', 'Quentin Ashdown'),
  student('rania', 'Rania Haddadin'),
  student('sven', 'Sven Aaltonen'),
  student('tamsin', 'Tamsin Colwyn'),
  student('umeko', 'Umeko Sakai'),
  // In both classes, as people are.
  languageStudents[4]!,
];

/** Every speaker sounds like somebody else. Keyed by person. */
export const voices: Record<string, DemoVoice> = {
  ines: { voice: 'pt+f2', wordsPerMinute: 140, pitch: 55, noiseDb: -52, gainDb: 0 },
  amara: { voice: 'pt+f1', wordsPerMinute: 128, pitch: 62, noiseDb: -48, gainDb: -2 },
  bram: { voice: 'pt+m3', wordsPerMinute: 118, pitch: 32, noiseDb: -44, gainDb: -5 },
  chiyo: { voice: 'pt+f4', wordsPerMinute: 104, pitch: 72, noiseDb: -50, gainDb: -9 },
  dilnoza: { voice: 'pt-br+f3', wordsPerMinute: 122, pitch: 58, noiseDb: -46, gainDb: -3 },
  emrys: { voice: 'pt+m1', wordsPerMinute: 136, pitch: 40, noiseDb: -40, gainDb: -1 },
  farid: { voice: 'pt-br+m4', wordsPerMinute: 148, pitch: 44, noiseDb: -50, gainDb: -4 },
  greta: { voice: 'pt+f5', wordsPerMinute: 112, pitch: 48, noiseDb: -47, gainDb: -6 },
  hamish: { voice: 'pt+m7', wordsPerMinute: 98, pitch: 25, noiseDb: -42, gainDb: -12 },
  ilse: { voice: 'pt-br+f2', wordsPerMinute: 132, pitch: 66, noiseDb: -50, gainDb: -2 },
  jovan: { voice: 'pt+m5', wordsPerMinute: 124, pitch: 36, noiseDb: -38, gainDb: -4 },
  kamala: { voice: 'pt+f3', wordsPerMinute: 142, pitch: 60, noiseDb: -52, gainDb: -7 },
  leopold: { voice: 'pt+m2', wordsPerMinute: 110, pitch: 50, noiseDb: -45, gainDb: -3 },
};

export interface DemoItem {
  key: string;
  promptText: string;
  /** A passage to be read aloud, and its language. */
  passage?: { text: string; language: string };
  /** Codes of the statements that the item is about. */
  tags?: string[];
  /** Title of the notation that is drawn from the tune. */
  score?: string;
  /** Spoken by the teacher when given. */
  promptVoice?: string;
  prepareMs: number;
  answerLimitMs: number;
  takesAllowed: number;
  points: number;
  /** Sentences that answers are put together from, in this order. */
  sentences?: string[];
  /** A tune to perform: pairs of MIDI note and length in quarter notes. */
  tune?: { bpm: number; notes: [number, number][] };
  /** A piece for two hands, and a rhythm to clap. */
  hands?: DemoHands;
  rhythm?: DemoRhythm;
  /** Said again after the prompt: by whom otherwise than the prompt has it. */
  repeats?: Record<string, string>;
  /** Of a dialogue, the lines that somebody speaks. */
  speaks?: Record<string, string[]>;
}

export interface DemoHands {
  bpm: number;
  /** Quarter notes of a measure. */
  beats: number;
  /** MIDI notes and length in quarter notes. */
  right: [number, number][];
  left: [number[], number][];
  /** Who stopped in which measure (from 1), went back to which, and waited how long there. */
  stops: Record<string, { in: number; backTo: number; sec: number }>;
}

export interface DemoRhythm {
  bpm: number;
  /** Lengths in quarter notes; rests are negative. */
  lengths: number[];
  /** Who left which stroke out, from 1. */
  leftOut: Record<string, number>;
}

/** A measure of a waltz for the left hand: the lowest note alone, then the others twice. */
function waltz([low, ...chord]: [number, ...number[]]): [number[], number][] {
  return [
    [[low], 1],
    [chord, 1],
    [chord, 1],
  ];
}

/** What learners at Brackwater can do, in the school's own words. */
export const statements = [
  { code: 'BW-1', words: 'I can say who I am and where I live.' },
  { code: 'BW-2', words: 'I can tell how my day goes.' },
  { code: 'BW-3', words: 'I can ask what something costs and buy it.' },
  { code: 'BW-4', words: 'I can say what I am going to do.' },
  { code: 'BW-5', words: 'I can read a short story aloud so that a child follows it.' },
  { code: 'BW-6', words: 'I can tell a short story again in my own words.' },
];

/** How the classes are made up, and what is planned. */
export const term = {
  coordinator: { key: 'halvard', name: 'Halvard Brix', signIn: 'halvard@brackwater.example' },
  groups: [
    { class: 'portuguese', name: 'Window table', students: ['amara', 'chiyo', 'farid', 'ilse'] },
    { class: 'recorder', name: 'Tenors and basses', students: ['nuno', 'quentin', 'sven', 'umeko'] },
  ],
  arrangements: [
    { student: 'hamish', extraTime: 1.25, extraHearings: 1, readAloud: false, breakMs: 0 },
    { student: 'rania', extraTime: 1.5, extraHearings: 1, readAloud: true, breakMs: 600_000 },
  ],
  holiday: { name: 'Harbour festival', days: 4 },
  school: { name: 'This term', daysGone: 84, daysLeft: 35 },
  /** One note a week, each opening a week after the one before. */
  weekly: {
    class: 'recorder',
    assessment: 'scales',
    notes: ['D major, two octaves', 'B flat major', 'A minor, slurred'],
  },
} as const;

export const department = { name: 'Brackwater staff room', list: 'What learners can do' };

export interface DemoAssessment {
  key: string;
  /** Homework, unless said otherwise. */
  startingPoint?: 'placement';
  teacher: 'ines' | 'tobias';
  title: string;
  directions: string;
  items: DemoItem[];
  /** What its teacher says of the answers, in place of the usual comments and notes; taken in turn. */
  said?: string[];
}

export const assessments: DemoAssessment[] = [
  {
    key: 'morning',
    teacher: 'ines',
    title: 'A morning in Brackwater',
    directions:
      'Three short answers about your morning. Speak in full sentences and take your time; a pause is not a mistake. You may record each answer twice.',
    items: [
      {
        key: 'wake',
        tags: ['BW-2'],
        promptText: 'A que horas te levantas, e o que fazes primeiro?',
        promptVoice: 'A que horas te levantas, e o que fazes primeiro?',
        prepareMs: 15_000,
        answerLimitMs: 40_000,
        takesAllowed: 2,
        points: 5,
        sentences: [
          'Eu levanto-me às seis e meia da manhã.',
          'Primeiro abro a janela e olho para o porto.',
          'Depois faço café e ouço as notícias.',
          'Às vezes está muito nevoeiro e não vejo os barcos.',
          'Tomo banho antes do pequeno-almoço.',
          'O meu filho ainda dorme a essa hora.',
          'Saio de casa às oito menos um quarto.',
        ],
      },
      {
        key: 'breakfast',
        tags: ['BW-2'],
        promptText: 'O que comes ao pequeno-almoço? Descreve a mesa.',
        promptVoice: 'O que comes ao pequeno-almoço? Descreve a mesa.',
        prepareMs: 15_000,
        answerLimitMs: 45_000,
        takesAllowed: 2,
        points: 5,
        sentences: [
          'Ao pequeno-almoço como pão com queijo.',
          'Na mesa há uma toalha azul e duas chávenas.',
          'Bebo chá, porque não gosto de café.',
          'Ao domingo comemos ovos e fruta.',
          'A minha avó fazia doce de laranja.',
          'O pão vem da padaria da rua do farol.',
        ],
      },
      {
        key: 'plan',
        tags: ['BW-4'],
        promptText: 'Conta-me um plano para amanhã de manhã.',
        promptVoice: 'Conta-me um plano para amanhã de manhã.',
        prepareMs: 20_000,
        answerLimitMs: 60_000,
        takesAllowed: 2,
        points: 10,
        sentences: [
          'Amanhã de manhã vou ao mercado com a minha irmã.',
          'Queremos comprar peixe fresco e legumes.',
          'Se não chover, vamos a pé até ao farol.',
          'Depois vou telefonar ao meu colega de trabalho.',
          'Tenho de voltar antes do meio-dia.',
          'À tarde tenho a aula de português.',
          'Acho que vai ser um dia bonito.',
          'Também quero passar pela biblioteca.',
        ],
      },
    ],
  },
  {
    key: 'market',
    teacher: 'ines',
    title: 'At the fish market',
    directions:
      'You are at the stall of Dona Alda on the quay. Listen to her, think for a moment, then answer as you would there.',
    items: [
      {
        key: 'order',
        tags: ['BW-3'],
        promptText: 'Dona Alda asks what you would like, and for how many people.',
        promptVoice: 'Bom dia! O que vai ser hoje? É para quantas pessoas?',
        prepareMs: 10_000,
        answerLimitMs: 30_000,
        takesAllowed: 1,
        points: 6,
        sentences: [
          'Bom dia, dona Alda.',
          'Queria meio quilo de sardinhas, por favor.',
          'É para quatro pessoas.',
          'As sardinhas são de hoje?',
          'Pode limpar o peixe?',
          'E também dois carapaus grandes.',
        ],
      },
      {
        key: 'price',
        tags: ['BW-3'],
        promptText: 'She tells you the price. You find it dear: say so politely, and agree on something.',
        promptVoice: 'São catorze euros, se faz favor. Hoje o mar esteve bravo.',
        prepareMs: 10_000,
        answerLimitMs: 40_000,
        takesAllowed: 1,
        points: 6,
        sentences: [
          'Desculpe, catorze euros é um pouco caro para mim.',
          'Na semana passada paguei dez euros.',
          'Pode fazer um preço mais baixo?',
          'Então levo só as sardinhas.',
          'Está bem, aqui tem doze euros.',
          'Muito obrigada e até para a semana.',
          'Compreendo, o mar esteve difícil.',
        ],
      },
    ],
  },
  {
    key: 'bell',
    teacher: 'ines',
    title: 'The harbour bell',
    directions: 'First read the passage aloud, as if to a child. Then say in your own words what happened.',
    items: [
      {
        key: 'read',
        promptText: 'Lê em voz alta, como a uma criança.',
        passage: {
          text: 'O sino do porto tocava sempre às cinco. Uma noite, ninguém o ouviu. A velha Matilde foi ver: uma gaivota tinha feito o ninho dentro do sino. Desde então, em Brackwater, o dia começa quando a gaivota quer.',
          language: 'pt',
        },
        tags: ['BW-5'],
        prepareMs: 20_000,
        answerLimitMs: 45_000,
        takesAllowed: 2,
        points: 5,
        sentences: [
          'O sino do porto tocava sempre às cinco.',
          'Uma noite, ninguém o ouviu.',
          'A velha Matilde foi ver: uma gaivota tinha feito o ninho dentro do sino.',
          'Desde então, em Brackwater, o dia começa quando a gaivota quer.',
        ],
      },
      {
        key: 'retell',
        promptText: 'Porque é que o sino não tocou? Conta por palavras tuas.',
        tags: ['BW-6'],
        promptVoice: 'Porque é que o sino não tocou? Conta por palavras tuas.',
        prepareMs: 15_000,
        answerLimitMs: 45_000,
        takesAllowed: 2,
        points: 5,
        sentences: [
          'O sino não tocou porque havia um ninho.',
          'Uma gaivota fez a casa dentro do sino.',
          'A Matilde encontrou o ninho de noite.',
          'Agora as pessoas acordam com a gaivota.',
        ],
      },
    ],
  },
  {
    key: 'talk',
    startingPoint: 'placement',
    teacher: 'ines',
    title: 'Where you stand: a talk',
    directions:
      'Two questions, so that I hear where you stand. Nothing is scored; say as much as you can, and pass where you cannot.',
    items: [
      {
        key: 'morning',
        promptText: 'Conta-me uma manhã tua, como quiseres.',
        tags: ['BW-2'],
        prepareMs: 10_000,
        answerLimitMs: 60_000,
        takesAllowed: 1,
        points: 0,
      },
      {
        key: 'shop',
        promptText: 'Compra alguma coisa, onde quiseres.',
        tags: ['BW-3'],
        prepareMs: 10_000,
        answerLimitMs: 60_000,
        takesAllowed: 1,
        points: 0,
      },
    ],
  },
  {
    key: 'scales',
    teacher: 'tobias',
    title: 'Two scales and a tune',
    directions:
      'Play the scale evenly, one breath up and one down. Then the tune, at a speed at which nothing trips you.',
    items: [
      {
        key: 'scale',
        promptText: 'F major, one octave up and down, about 88 to the quarter note.',
        score: 'Scale of F major',
        prepareMs: 10_000,
        answerLimitMs: 40_000,
        takesAllowed: 3,
        points: 8,
        tune: {
          bpm: 88,
          notes: [
            [65, 1],
            [67, 1],
            [69, 1],
            [70, 1],
            [72, 1],
            [74, 1],
            [76, 1],
            [77, 2],
            [76, 1],
            [74, 1],
            [72, 1],
            [70, 1],
            [69, 1],
            [67, 1],
            [65, 2],
          ],
        },
      },
      {
        key: 'tune',
        promptText: '“Lamplighter’s Round”, once through.',
        score: 'Lamplighter’s Round',
        prepareMs: 20_000,
        answerLimitMs: 60_000,
        takesAllowed: 3,
        points: 12,
        tune: {
          bpm: 96,
          notes: [
            [72, 1],
            [69, 0.5],
            [70, 0.5],
            [72, 1],
            [77, 1],
            [76, 1],
            [74, 0.5],
            [72, 0.5],
            [74, 2],
            [70, 1],
            [67, 0.5],
            [69, 0.5],
            [70, 1],
            [74, 1],
            [72, 1],
            [70, 0.5],
            [69, 0.5],
            [67, 2],
            [69, 1],
            [72, 1],
            [77, 1.5],
            [76, 0.5],
            [74, 1],
            [76, 1],
            [72, 2],
            [74, 0.5],
            [72, 0.5],
            [70, 0.5],
            [69, 0.5],
            [70, 1],
            [67, 1],
            [65, 3],
          ],
        },
      },
    ],
  },
  {
    key: 'hands',
    teacher: 'tobias',
    title: 'Two hands',
    directions:
      'For whoever also plays the keyboard: the waltz with both hands, slowly enough to keep going. Then the rhythm, clapped.',
    said: [
      'You stopped where the left hand leaps. Play bars 5 to 8 alone, left hand first.',
      'The rest on the fourth beat is a beat like the others: count it.',
      'Both hands together from the first bar on. Lean a little on each one.',
      'Steady hands. The dotted one may be longer still.',
    ],
    items: [
      {
        key: 'waltz',
        promptText: '“Ferry Waltz”, both hands, once through.',
        score: 'Ferry Waltz',
        prepareMs: 20_000,
        answerLimitMs: 60_000,
        takesAllowed: 3,
        points: 10,
        hands: {
          bpm: 104,
          beats: 3,
          right: [
            [69, 1],
            [72, 1],
            [77, 1],
            [76, 2],
            [74, 1],
            [72, 1],
            [70, 1],
            [69, 1],
            [67, 3],
            [67, 1],
            [70, 1],
            [74, 1],
            [72, 2],
            [69, 1],
            [70, 1],
            [69, 1],
            [67, 1],
            [65, 3],
            [69, 1.5],
            [70, 0.5],
            [72, 1],
            [74, 2],
            [72, 1],
            [70, 1],
            [67, 1],
            [64, 1],
            [65, 3],
          ],
          left: [
            ...waltz([53, 57, 60]),
            ...waltz([48, 58, 64]),
            ...waltz([53, 57, 60]),
            ...waltz([48, 55, 58]),
            ...waltz([55, 58, 62]),
            ...waltz([53, 57, 60]),
            ...waltz([48, 58, 60]),
            ...waltz([53, 57, 60]),
            ...waltz([53, 57, 60]),
            ...waltz([46, 58, 62]),
            ...waltz([48, 55, 58]),
            [[41, 53, 57, 60], 3],
          ],
          stops: { quentin: { in: 7, backTo: 5, sec: 1.1 }, tamsin: { in: 11, backTo: 11, sec: 0.7 } },
        },
      },
      {
        key: 'clap',
        promptText: 'Clap the rhythm of the harbour drum.',
        score: 'Harbour drum',
        prepareMs: 10_000,
        answerLimitMs: 30_000,
        takesAllowed: 3,
        points: 4,
        rhythm: {
          bpm: 92,
          lengths: [1, 1, 0.5, 0.5, 1, 1.5, 0.5, 1, -1, 0.5, 0.5, 0.5, 0.5, 1, 1, 1, -1, 2],
          leftOut: { tamsin: 7 },
        },
      },
    ],
  },
  {
    key: 'echo',
    teacher: 'ines',
    title: 'Say it after me',
    directions:
      'Listen to the question, then ask it with the same melody. Then take one part of the dialogue, whichever you like.',
    said: [
      'One breath, as I did it. Good.',
      'Ana is in no hurry, and neither are you. Two words are missing; look where.',
      'You told me, you did not ask me: let the end rise.',
      'I would buy a ticket from you.',
      'The melody is there. Now a little quicker.',
      'Both of them, and one hears who is speaking.',
    ],
    items: [
      {
        key: 'ferry',
        tags: ['BW-3'],
        promptText: 'Pergunta como eu: com a mesma melodia, e sem parar no meio.',
        promptVoice: 'É verdade que o barco das cinco não vem hoje? Então, como é que voltamos para casa?',
        prepareMs: 5_000,
        answerLimitMs: 20_000,
        takesAllowed: 3,
        points: 4,
        repeats: {
          emrys: 'É verdade que o barco das cinco não vem hoje. Então, como é que voltamos para casa.',
        },
      },
      {
        key: 'office',
        tags: ['BW-3'],
        promptText: 'Lê uma parte do diálogo: a da Ana, a do senhor Rui, ou as duas.',
        passage: {
          text: [
            'Ana: Bom dia. Queria dois bilhetes para sábado, se faz favor.',
            'Senhor Rui: Para o barco das nove ou para o das onze?',
            'Ana: Para o das nove. Quanto custa a viagem?',
            'Senhor Rui: São catorze euros, ida e volta.',
            'Ana: Aqui tem. Muito obrigada, e até sábado.',
          ].join('\n'),
          language: 'pt',
        },
        prepareMs: 15_000,
        answerLimitMs: 45_000,
        takesAllowed: 2,
        points: 4,
        speaks: {
          dilnoza: [
            'Bom dia. Queria dois bilhetes para sábado, se faz favor.',
            'Para o das nove. Quanto custa?',
            'Aqui tem. Muito obrigada, e até sábado.',
          ],
          emrys: ['Para o barco das nove ou para o das onze?', 'São catorze euros, ida e volta.'],
          leopold: [
            'Bom dia. Queria dois bilhetes para sábado, se faz favor.',
            'Para o barco das nove ou para o das onze?',
            'Para o das nove. Quanto custa a viagem?',
            'São catorze euros, ida e volta.',
            'Aqui tem. Muito obrigada, e até sábado.',
          ],
        },
      },
    ],
  },
  {
    key: 'phone',
    teacher: 'ines',
    title: 'Ordering by telephone',
    directions: 'You telephone the ferry office. A draft: the second call is still to be recorded.',
    items: [
      {
        key: 'ferry',
        promptText: 'Ask for two tickets for Saturday morning and say how you will pay.',
        prepareMs: 20_000,
        answerLimitMs: 45_000,
        takesAllowed: 2,
        points: 5,
      },
      {
        key: 'delay',
        promptText: 'The ferry is late. Ask when it leaves, and ask for your money back.',
        prepareMs: 30_000,
        answerLimitMs: 60_000,
        takesAllowed: 2,
        points: 10,
      },
    ],
  },
];

export interface DemoAnswer {
  student: string;
  /** Hours between hand-in and due time; below zero is late. */
  hoursBefore: number;
  marked: boolean;
  returned: boolean;
  /** Items left without an answer. */
  skips?: string[];
}

export interface DemoRelease {
  assessment: string;
  class: 'portuguese' | 'recorder';
  /** Days from now to the due time. */
  dueInDays: number;
  note: string;
  lateAccepted: boolean;
  answers: DemoAnswer[];
  /** Opened, with the first item recorded, not handed in. */
  underWay: string[];
  /** Places on the scale, where one overall level is given. */
  levels?: Record<string, number>;
  /** Whose sound an item is heard with, where it has none of its own: `assessment-item`. */
  sounds?: Record<string, string>;
  /** For these students only; else for the whole class. */
  isForWhoAnswered?: boolean;
}

const answer = (
  student: string,
  hoursBefore: number,
  marked: boolean,
  returned = false,
  skips?: string[],
): DemoAnswer => ({
  student,
  hoursBefore,
  marked,
  returned,
  skips,
});

/** Measured twice with the same talk, autumn and now: from which level to which. */
const STOOD: Record<string, [number, number]> = {
  amara: [2, 3],
  bram: [2, 2],
  chiyo: [1, 2],
  dilnoza: [2, 3],
  emrys: [3, 3],
  farid: [2, 3],
  greta: [1, 2],
  kamala: [2, 3],
};
const talk = (
  dueInDays: number,
  which: 0 | 1,
  note: string,
  sounds: Record<string, string>,
): DemoRelease => ({
  assessment: 'talk',
  class: 'portuguese',
  dueInDays,
  note,
  lateAccepted: true,
  answers: Object.keys(STOOD).map((student, n) => answer(student, 4 + 3 * n, true, true)),
  underWay: [],
  levels: Object.fromEntries(Object.entries(STOOD).map(([student, levels]) => [student, levels[which]])),
  sounds,
});

export const releases: DemoRelease[] = [
  talk(-75, 0, 'Before the lessons begin.', { morning: 'morning-wake', shop: 'market-order' }),
  talk(-14, 1, 'The same talk again.', { morning: 'morning-plan', shop: 'market-price' }),
  {
    assessment: 'morning',
    class: 'portuguese',
    dueInDays: -8,
    note: 'The first recording of the year: aim for being understood.',
    lateAccepted: true,
    answers: [
      answer('amara', 30, true, true),
      answer('bram', 5, true, true),
      answer('chiyo', 50, true, true),
      answer('dilnoza', 2, true, true),
      answer('emrys', 20, true, true),
      answer('farid', 9, true, true),
      answer('greta', 1, true, true),
      answer('hamish', -14, true, true),
      answer('ilse', 26, true, true),
      answer('kamala', -40, true, false),
    ],
    underWay: [],
  },
  {
    assessment: 'market',
    class: 'portuguese',
    dueInDays: -1,
    note: 'Polite forms matter here.',
    lateAccepted: true,
    answers: [
      answer('amara', 12, true),
      answer('bram', 3, true),
      answer('chiyo', 28, false),
      answer('dilnoza', 7, false),
      answer('emrys', -6, false),
      answer('farid', 16, false),
      answer('greta', 2, false),
      answer('ilse', 40, false, false, ['price']),
      answer('jovan', -3, false),
      answer('kamala', 4, false),
    ],
    underWay: ['hamish'],
  },
  {
    assessment: 'scales',
    class: 'recorder',
    dueInDays: -2,
    note: 'D minor next week.',
    lateAccepted: false,
    answers: [
      answer('mireille', 8, true, true),
      answer('nuno', 20, true),
      answer('oksana', 5, false),
      answer('pilar', 31, false),
      answer('quentin', 2, false),
      answer('rania', 18, false),
      answer('sven', 1, false),
      answer('tamsin', 12, false),
    ],
    underWay: [],
  },
  {
    assessment: 'hands',
    class: 'recorder',
    dueInDays: -20,
    note: 'Only for those who would like to.',
    lateAccepted: true,
    isForWhoAnswered: true,
    answers: [
      answer('quentin', 6, true, true),
      answer('tamsin', 20, true, true),
      answer('umeko', 3, true, true),
    ],
    underWay: [],
  },
  {
    assessment: 'echo',
    class: 'portuguese',
    dueInDays: -21,
    note: '',
    lateAccepted: true,
    isForWhoAnswered: true,
    answers: [
      answer('dilnoza', 4, true, true),
      answer('emrys', 11, true, true),
      answer('leopold', 2, true, true),
    ],
    underWay: [],
  },
  {
    assessment: 'bell',
    class: 'portuguese',
    dueInDays: 4,
    note: '',
    lateAccepted: true,
    answers: [answer('ilse', 108, false), answer('farid', 130, false)],
    underWay: ['leopold'],
  },
];

/** Comments as a kind, exact teacher writes them; taken in turn. */
export const comments: Record<'ines' | 'tobias', string[]> = {
  ines: [
    'Clear and calm. Listen to the end of “levanto-me”: the -me is almost gone.',
    'I understood everything at once. Next time try one sentence with “porque”.',
    'Lovely detail about the harbour. The nasal in “pão” is getting there: hold it a little longer.',
    'You corrected yourself in the middle, and rightly. Keep doing that.',
    'Good verbs. The pause before the second sentence is long: start it with “e depois”.',
    'Your intonation rises at the end of each sentence, as if you asked me. Let it fall.',
    'A whole story in half a minute! Watch “às oito”, with the s joined to the o.',
    'Very quiet recording; move the telephone nearer. What I heard was right.',
  ],
  tobias: [
    'Even fingers, good breath. The B flat sits low: lift the air before it.',
    'The way down rushes a little. Count the long note to its end.',
    'Clean start. In bar five the two short notes trip; play them slowly ten times.',
    'Warm sound. Tongue the repeated notes more softly.',
  ],
};

/** Notes at moments of a recording; places as shares of its length. */
export const pinned: Record<'ines' | 'tobias', { from: number; to: number | null; words: string }[]> = {
  ines: [
    { from: 0.12, to: null, words: 'A brave beginning: no pause at all.' },
    { from: 0.45, to: 0.7, words: 'One breath for this whole sentence, and let it fall at the end.' },
  ],
  tobias: [
    { from: 0.2, to: null, words: 'Here the air comes first, then the finger.' },
    { from: 0.55, to: 0.8, words: 'Count this stretch aloud once before you play it.' },
  ],
};

/**
 * How Ilse read the passage aloud (a word left out, another word, two words said twice, one put in), and what Inês made of it
 * so XX
 */
export const reading: {
  assessment: string;
  student: string;
  item: string;
  said: string[];
  fromMs: number;
  toMs: number;
  marks: MiscueMark[];
  refused: string[];
} = {
  assessment: 'bell',
  student: 'ilse',
  item: 'read',
  said: [
    'O sino do porto tocava às cinco.',
    'Uma tarde, ninguém o ouviu.',
    'A velha Matilde foi ver:',
    'uma gaivota,',
    'uma gaivota tinha feito o ninho dentro do sino.',
    'Desde então, em Brackwater,',
    'o dia começa logo quando a gaivota quer.',
  ],
  fromMs: 1_090,
  toMs: 24_540,
  marks: [
    { word: 5, kind: 'omission', said: '', atMs: 2_930 },
    { word: 9, kind: 'substitution', said: 'tarde', atMs: 4_970 },
  ],
  refused: ['insertion:33-33'],
};

/** A draft of the Portuguese class: exam conditions, with a conversation made of turns that were spoken before. */
export const oralExam = {
  title: 'Oral exam: a word with Dona Alda',
  directions:
    'First read the price list, then talk with Dona Alda. The conversation runs without a stop; after each of her turns it is yours.',
  material: 'Sardinhas 4 € o quilo · Robalo 11 € · Mexilhões 3 € · Gelo grátis. Aberto até à maré alta.',
  scene: {
    section: 'At the stall',
    promptText: 'You want fish for four people and have twenty euros. Answer Dona Alda.',
    hint: 'Begin with how many you are.',
  },
  closingWords: 'Thank you. You will hear from us next Tuesday.',
  turns: [
    { sound: 'prompt-market-order', says: 'what it will be, for how many', gapMs: 25_000 },
    { sound: 'prompt-market-price', says: 'the price', gapMs: 30_000 },
  ],
  rubric: {
    levels: ['not yet', 'nearly', 'yes', 'with ease'].map((name, points) => ({ name, points })),
    criteria: [
      {
        name: 'Gets the fish',
        weight: 2,
        descriptors: ['no answer fits', 'a part is asked for', 'all is asked for', 'and haggles besides'],
      },
      {
        name: 'Flow',
        weight: 1,
        descriptors: ['single words', 'stops inside sentences', 'pauses between sentences', 'an easy pace'],
      },
      {
        name: 'Polite forms',
        weight: 1,
        descriptors: ['none', 'now and then', 'throughout', 'throughout, and varied'],
      },
    ],
  },
};

/** What a student has put together of their recordings, and what their teacher would add. */
export const portfolio = {
  student: 'amara',
  title: 'Portuguese, from the first week on',
  words: 'What I dared to say this autumn, the first one first.',
  pieces: [
    {
      assessment: 'morning',
      item: 'wake',
      title: 'The first time on my own',
      words: 'I was so nervous that I read it all from a note. You hear it at the full stops.',
    },
    {
      assessment: 'morning',
      item: 'plan',
      title: '',
      words: 'Here I looked out of the window and simply told what I saw in my day.',
    },
  ],
  shownTo: 'ines',
  suggested: {
    assessment: 'morning',
    item: 'breakfast',
    words: 'Listen to your “pequeno-almoço”: that one is worth keeping.',
  },
};

/** A discussion of the language class that has gone on for some days: who said what, to whom, hours ago. */
export const discussion: {
  teacher: string;
  class: string;
  title: string;
  expected: string;
  welcome: string;
  question: string;
  startingPoint: string;
  dueInDays: number;
  note: string;
  said: {
    key: string;
    who: string;
    hoursAgo: number;
    /** What is spoken, as the voice says it. */
    says: string;
    to?: string;
    /** The stretch of it that is replied to, as shares of its length. */
    moment?: [number, number];
    atStartingPoint?: true;
    title?: string;
    words?: string;
    heardByTeacher?: true;
  }[];
} = {
  teacher: 'ines',
  class: 'portuguese',
  title: 'Where we live by the water',
  expected:
    'Say one thing of your own by the first day, then answer two others. Speak freely: nobody reads aloud here.',
  welcome:
    'Bem-vindos a esta conversa. Ouçam primeiro os outros, e depois respondam a alguém. Não é preciso falar muito.',
  question: 'O que mudou no porto desde que chegou aqui?',
  startingPoint: 'The old ferry landing: who stood there, and where were they going?',
  dueInDays: 4,
  note: 'Two minutes at most, and no notes.',
  said: [
    {
      key: 'amara-market',
      who: 'amara',
      hoursAgo: 52,
      says: 'Quando cheguei, havia um mercado de peixe ao lado do cais. Agora há cafés, e o peixe vem de camião. Tenho saudades do barulho.',
      heardByTeacher: true,
    },
    {
      key: 'bram-landing',
      who: 'bram',
      hoursAgo: 47,
      says: 'Na fotografia estão três pessoas com malas. Acho que vão trabalhar na ilha, porque levam pouco e é de manhã cedo.',
      atStartingPoint: true,
      title: 'Three people with cases',
      words: 'The photograph hangs in the harbour office.',
      heardByTeacher: true,
    },
    {
      key: 'dilnoza-noise',
      who: 'dilnoza',
      hoursAgo: 41,
      says: 'Eu gosto do silêncio de agora. Mas compreendo a Amara: na minha cidade também havia um mercado, e faz falta.',
      to: 'amara-market',
      moment: [0.6, 1],
      heardByTeacher: true,
    },
    {
      key: 'ines-landing',
      who: 'ines',
      hoursAgo: 40,
      says: 'Muito bem observado, Bram. E a criança à esquerda, para onde olha?',
      to: 'bram-landing',
    },
    {
      key: 'chiyo-landing',
      who: 'chiyo',
      hoursAgo: 30,
      says: 'A criança olha para o barco. Talvez o pai dela vá embora.',
      to: 'ines-landing',
    },
    {
      key: 'emrys-tram',
      who: 'emrys',
      hoursAgo: 22,
      says: 'Mudou o elétrico. Antes parava mesmo no porto, e agora é preciso andar dez minutos.',
    },
    {
      key: 'amara-tram',
      who: 'amara',
      hoursAgo: 8,
      says: 'Dez minutos não é muito, Emrys! Eu ando sempre a pé.',
      to: 'emrys-tram',
    },
  ],
};

/** The classes as the simulated school system knows them: it has not heard of everybody yet. */
export function demoSchool(): SimulatedClass[] {
  const known = (people: readonly DemoPerson[], first: number) =>
    people.map(({ name, signIn }, i) => {
      const [givenName, ...rest] = name.split(' ');
      return {
        sourcedId: `bes-${first + i}`,
        givenName: givenName!,
        familyName: rest.join(' '),
        email: signIn,
      };
    });
  return [
    {
      sourcedId: 'bes-pt-a2-tue',
      title: 'Portuguese A2 (Tuesday evening)',
      teachers: known(teachers.slice(0, 1), 11),
      students: known(languageStudents, 1_001).filter(s => s.givenName !== 'Kamala'),
    },
    {
      sourcedId: 'bes-recorder-1',
      title: 'Recorder consort, year 1',
      teachers: known(teachers.slice(1, 2), 12),
      students: known(musicStudents, 2_001),
    },
  ];
}

/** What the language teacher said to the class and to families, and where families are written to. */
export const message = {
  teacher: 'ines',
  class: 'portuguese',
  title: 'The walk along the harbour on Friday',
  /** As the voice says it, and as it is read. */
  says: 'Na sexta-feira vamos ao porto. Encontramo-nos às nove horas nas escadas do ferry. Tragam um casaco, e perguntem em casa por uma canção do mar.',
  hoursAgo: 20,
  families: [
    { student: 'amara', email: 'home-of-amara@brackwater.example', name: 'Grandmother', language: 'en' },
    { student: 'chiyo', email: 'home-of-chiyo@brackwater.example', name: '', language: 'ja' },
    { student: 'farid', email: 'home-of-farid@brackwater.example', name: 'Parents', language: 'ar' },
  ],
  playedBy: ['bram', 'dilnoza'],
} as const;
