/** A feedback sheet: what a student hears and reads on their page, on paper, with every note and its time. */
import type { SheetView } from '@ecoute/contract/ink';
import { inkAt, PEN_WIDTH, PENS, SHEET_WIDTH } from '@ecoute/core/takes/ink';
import type { Peaks } from '@ecoute/core/audio/peaks';
import { DRAWING_WIDTH, type Drawing, type ScoreInk } from '@ecoute/core/feedback/drawing';
import {
  countWords,
  MISCUE_LETTERS,
  readingFigures,
  wordsOf,
  type RunningRecord,
} from '@ecoute/core/feedback/runningRecord';
import { isNumbered } from '@ecoute/core/scoring/scheme';
import { clock } from '@ecoute/core/timing/words';
import { wordsOfPart } from '@ecoute/core/words/parts';
import type { Item } from '@ecoute/contract/assessments';
import { carriedBy } from '@ecoute/contract/assessment/points';
import type { FeedbackItem, FeedbackView } from '@ecoute/contract/marking';
import type { Note } from '@ecoute/contract/notes';
import type { SheetWords } from './sheetWords';
import { INK, LINE, MARGIN, Paper, SAFFRON, SAFFRON_INK, SOFT, WIDE } from '../../platform/paper/paper';
import { waveform } from '../../platform/paper/waveform';

/** What is not in the view itself, fetched by whoever writes the sheet. */
export interface SheetSources {
  studentName: string;
  peaksOf: (takeId: string) => Promise<Peaks | null>;
  /** A picture as JPEG; null where it cannot be had. */
  pictureOf: (recordingId: string, page: number | null) => Promise<Buffer | null>;
  /** What was drawn while a take was spoken. */
  drawnWith: (takeId: string) => Promise<SheetView | null>;
  /** The sheet's own words, in the language of whoever reads it. */
  says: SheetWords;
  /** An instant in words, in the same language and in the zone of the release. */
  when: (iso: string) => string;
}

const placeOf = ({ fromMs, toMs }: Pick<Note, 'fromMs' | 'toMs'>) =>
  toMs === null ? clock(fromMs) : `${clock(fromMs)}–${clock(toMs)}`;

function noteLines(paper: Paper, notes: readonly Note[], says: SheetWords): void {
  for (const note of notes) {
    const spoken = !note.voiceId
      ? ''
      : `${note.voiceMs === null ? says('spoken') : says('spokenFor', { length: clock(note.voiceMs) })} `;
    paper.room(16);
    const { y } = paper;
    paper.text(placeOf(note), { weight: 700, color: SAFFRON_INK, width: 70 });
    const after = paper.y;
    paper.y = y;
    paper.text(`${spoken}${note.words}`.trim() + ` — ${note.authorName}`, { x: 74 });
    paper.y = Math.max(paper.y, after);
  }
}

/** A passage with the letters of its miscues behind the words, and the figures. */
function reading(
  paper: Paper,
  text: string,
  language: string,
  record: RunningRecord,
  answerMs: number | null,
  says: SheetWords,
): void {
  const pieces = wordsOf(text, language);
  const marked = pieces
    .map(piece => {
      if (!piece.isWord) return piece.text;
      const letters = record.marks
        .filter(m => m.word === piece.index)
        .map(m => `${MISCUE_LETTERS[m.kind]}${m.said ? ` ${m.said}` : ''}`);
      return letters.length === 0 ? piece.text : `${piece.text}[${letters.join(', ')}]`;
    })
    .join('');
  paper.text(marked, { size: 12, x: 10, width: WIDE - 10 });
  const f = readingFigures(countWords(pieces), record, answerMs, wordsOfPart(text, language, record.part));
  const one = (n: number) => String(Math.round(n * 10) / 10);
  const parts = [
    says('wordsRight', { right: f.wordsCorrect, words: f.words }),
    f.accuracy !== null && says('accuracy', { percent: one(f.accuracy * 100) }),
    f.wordsCorrectPerMinute !== null && says('pace', { rate: Math.round(f.wordsCorrectPerMinute) }),
    says('errors', { count: f.errors }),
    [
      says('selfCorrections', { count: f.selfCorrections }),
      f.selfCorrectionOneIn !== null && says('oneIn', { one: one(f.selfCorrectionOneIn) }),
    ]
      .filter(Boolean)
      .join(' '),
  ];
  paper.text(parts.filter(Boolean).join(' · '), { weight: 700, x: 10 });
  paper.text(says('letters'), { size: 8, color: SOFT, x: 10 });
}

/** Strokes and text where they were put, over whatever lies in the same frame. */
function strokes(paper: Paper, drawing: Drawing, x: number, y: number, scale: number): void {
  const { doc } = paper;
  for (const shape of drawing.shapes) {
    if (shape.kind === 'stroke') {
      doc.moveTo(x + shape.points[0]! * scale, y + shape.points[1]! * scale);
      for (let i = 2; i + 1 < shape.points.length; i += 2)
        doc.lineTo(x + shape.points[i]! * scale, y + shape.points[i + 1]! * scale);
      doc
        .lineWidth(4 * scale)
        .lineCap('round')
        .lineJoin('round')
        .strokeColor('#9a5b00')
        .stroke();
    } else {
      const before = paper.y;
      paper.y = y + shape.y * scale;
      paper.text(shape.text, {
        size: 26 * scale,
        weight: 700,
        color: '#9a5b00',
        x: x - MARGIN + shape.x * scale,
      });
      paper.y = before;
    }
  }
}

/** A score as it lay on the screen, its outlines drawn as ink. */
function inkOf({ doc }: Paper, { x, y, scale: own, ink }: ScoreInk, top: number, scale: number): void {
  doc
    .save()
    .translate(MARGIN + x * scale, top + y * scale)
    .scale(own * scale);
  for (const { d, width } of ink) {
    doc.path(d);
    if (width === undefined) doc.fill('#000');
    else doc.lineWidth(width).stroke('#000');
  }
  doc.restore();
}

/** What the student drew while they spoke, as it was left. */
async function drawn(paper: Paper, item: Item, { takeId }: FeedbackItem, from: SheetSources): Promise<void> {
  const view = item.sheet && takeId ? await from.drawnWith(takeId) : null;
  if (!view || view.ink.strokes.length === 0) return;
  const { doc } = paper;
  // Small enough for two on a page.
  const scale = Math.min(WIDE / SHEET_WIDTH, 320 / view.ink.height);
  const [width, height] = [SHEET_WIDTH * scale, view.ink.height * scale];
  paper.gap(6);
  paper.room(height + 8);
  const picture = view.overId ? await from.pictureOf(view.overId, null) : null;
  if (picture) doc.image(picture, MARGIN, paper.y, { width, height });
  for (const { pen, points } of inkAt(view.ink, Infinity)) {
    doc.moveTo(MARGIN + points[0]! * scale, paper.y + points[1]! * scale);
    for (let i = 2; i + 1 < points.length; i += 2)
      doc.lineTo(MARGIN + points[i]! * scale, paper.y + points[i + 1]! * scale);
    doc
      .lineWidth(PEN_WIDTH * scale)
      .lineCap('round')
      .lineJoin('round')
      .strokeColor(PENS[pen]!)
      .stroke();
  }
  doc.rect(MARGIN, paper.y, width, height).lineWidth(0.75).strokeColor(SOFT).stroke();
  paper.y += height + 6;
}

async function markups(paper: Paper, item: Item, feedback: FeedbackItem, from: SheetSources): Promise<void> {
  for (const markup of feedback.markups) {
    const stimulus = item.stimuli.find(s => s.id === markup.targetId);
    if (markup.record && stimulus) {
      paper.gap(6);
      reading(paper, stimulus.text, stimulus.language, markup.record, feedback.durationMs, from.says);
    }
    if (!markup.drawing) continue;
    const isPicture = !stimulus || stimulus.kind === 'picture' || stimulus.kind === 'pages';
    const scale = WIDE / DRAWING_WIDTH;
    const tall = markup.drawing.height * scale;
    paper.gap(6);
    if (isPicture) {
      const page = stimulus?.kind === 'pages' ? stimulus.page || 1 : null;
      const picture = await from.pictureOf(stimulus?.recordingId ?? markup.targetId, page);
      // On a page of its own size where it is taller than one.
      const fit = Math.min(1, 640 / tall);
      paper.room(Math.min(tall, 640) + 4);
      if (picture) paper.doc.image(picture, MARGIN, paper.y, { width: WIDE * fit });
      strokes(paper, markup.drawing, MARGIN, paper.y, scale * fit);
      paper.y += tall * fit + 6;
    } else {
      const { underlay, score } = markup.drawing;
      const fit = Math.min(1, 640 / tall);
      paper.room(Math.min(tall, 640) + 4);
      for (const line of underlay ?? []) {
        const before = paper.y;
        paper.y += line.y * scale * fit;
        paper.text(line.text, { size: line.size * scale * fit, x: line.x * scale * fit, width: 4_000 });
        paper.y = before;
      }
      if (score) inkOf(paper, score, paper.y, scale * fit);
      if (!underlay && !score) paper.text(from.says('onScore'), { size: 8, color: SOFT });
      strokes(paper, markup.drawing, MARGIN, paper.y, scale * fit);
      paper.y += tall * fit + 6;
    }
  }
}

function rubric(paper: Paper, view: FeedbackView, feedback: FeedbackItem): void {
  const { rubric: own } = view.content.scoring;
  if (!own || feedback.choices.length === 0) return;
  paper.gap(4);
  for (const criterion of own.criteria) {
    const level = feedback.choices.find(c => c.criterionId === criterion.id)?.level;
    if (level === undefined) continue;
    paper.room(16);
    const { y } = paper;
    paper.text(criterion.name, { weight: 700, width: 140 });
    const after = paper.y;
    paper.y = y;
    const descriptor = criterion.descriptors[level]?.trim();
    paper.text(`${own.levels[level]?.name ?? ''}${descriptor ? `: ${descriptor}` : ''}`, { x: 146 });
    paper.y = Math.max(paper.y, after);
  }
}

/** Whether every item that carries points has some. */
const isAllScored = ({ content, items }: FeedbackView) =>
  content.items.every((item, i) => carriedBy(content, item) === 0 || items[i]!.points !== null);

/** @returns the bytes of the PDF */
export async function feedbackSheet(view: FeedbackView, from: SheetSources): Promise<Buffer> {
  const { says, when } = from;
  const paper = new Paper(`${view.title} – ${from.studentName}`);
  paper.doc.polygon([MARGIN + 8, 32], [MARGIN + WIDE, 32], [MARGIN + WIDE, 39], [MARGIN, 39]).fill(SAFFRON);
  paper.y = 52;
  paper.text(view.title, { size: 20, weight: 700 });
  paper.text(`${from.studentName} · ${view.className}`, { size: 12 });
  const handedIn =
    view.handedInAt === null ? says('notHandedIn') : says('handedIn', { when: when(view.handedInAt) });
  paper.text(
    `${handedIn}${view.late ? ` ${says('late')}` : ''}, ${view.feedbackAt === null ? says('feedbackNotYet') : says('feedback', { when: when(view.feedbackAt) })}`,
    { size: 9, color: SOFT },
  );
  // A sum of what is not all scored yet would be read as the result.
  if (view.total && (view.feedbackAt !== null || isAllScored(view)))
    paper.text(
      [says('points', view.total), view.enough !== null && says(view.enough ? 'enough' : 'notEnough')]
        .filter(Boolean)
        .join(' · '),
      { size: 14, weight: 700 },
    );
  if (view.level)
    paper.text(`${view.level.name}${view.level.descriptor ? `: ${view.level.descriptor}` : ''}`, {
      size: 14,
      weight: 700,
    });
  if (view.askedAgainFor !== null) paper.text(says('again', { words: view.askedAgainFor }), { weight: 700 });
  for (const [i, item] of view.content.items.entries()) {
    const feedback = view.items[i]!;
    if (item.answerBy === 'nothing') continue;
    paper.gap(10);
    paper.room(90);
    paper.doc.rect(MARGIN, paper.y, WIDE, 0.8).fill(LINE);
    paper.gap(6);
    const carries = carriedBy(view.content, item);
    const points =
      view.scoresHeld || carries === 0
        ? ''
        : isNumbered(view.content.scoring.kind)
          ? `   ${feedback.points ?? '–'} / ${carries}`
          : feedback.points === null
            ? ''
            : `   ${says(feedback.points > 0 ? 'done' : 'notDone')}`;
    paper.text(`${i + 1}  ${item.promptText}${points}`, { size: 12, weight: 700, color: INK });
    if (feedback.takeId) {
      const peaks = await from.peaksOf(feedback.takeId);
      if (peaks) waveform(paper, peaks, feedback.notes);
      noteLines(paper, feedback.notes, says);
    } else if (feedback.written !== null) paper.text(feedback.written, { x: 10 });
    else if (!feedback.stands) paper.text(says(feedback.passed ? 'passed' : 'noAnswer'), { color: SOFT });
    await drawn(paper, item, feedback, from);
    await markups(paper, item, feedback, from);
    rubric(paper, view, feedback);
    if (feedback.praise.length > 0)
      paper.text(feedback.praise.join(' · '), { weight: 700, color: SAFFRON_INK });
    if (feedback.comment) {
      paper.gap(4);
      paper.text(feedback.comment + (feedback.authorName ? ` — ${feedback.authorName}` : ''), { x: 10 });
    }
    for (const reply of feedback.replies)
      paper.text(
        `${reply.authorName}, ${from.when(reply.madeAt)}: ${reply.words || says(reply.voiceId ? 'spoken' : 'heard')}`,
        { size: 10, color: SOFT, x: 10 },
      );
  }
  return paper.finish();
}
