/** A whole discussion taken along: a ZIP that is heard offline in threads, or one sound with chapters in their order. */
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import escapeHtml from 'escape-html';
import Papa from 'papaparse';
import { threadsOf, type Placed, type Said, type Thread } from '@ecoute/core/discussions/talk';
import { chaptersMetadata, chaptersVtt, type Chapter } from '@ecoute/core/formats/chapters';
import { fileNameOf } from '@ecoute/core/formats/fileNames';
import { clock } from '@ecoute/core/timing/words';
import { talkOf, topicsOf } from '@ecoute/contract/assessment/discussion';
import type { Contribution, LeadView } from '@ecoute/contract/discussions';
import { endingOf } from '../../platform/packing';
import type { Recordings } from '../recordings/service';
import type { Worker } from '../../worker';
import { NotWanted, zipped, type OnStep } from './write';

type Heard = Contribution & Said;

/** What stands in a discussion, in threads: drafts, what waits and what was taken out stay behind. */
function threadsIn(view: LeadView): Thread<Heard>[] {
  return threadsOf(
    view.contributions
      .filter(c => c.state === 'here')
      .map(c => ({ ...c, authorId: c.author, atMs: Date.parse(c.at) })),
    topicsOf(view.content).map(i => i.id),
  );
}

/** A sound that goes along, with where it lies and what it is called there. */
interface Sound {
  id: string;
  path: string;
  name: string;
}

async function soundOf(recordings: Recordings, id: string, called: string): Promise<Sound | null> {
  const { path, type } = await recordings.served.playing(id).catch(() => ({ path: '', type: '' }));
  if (!path) return null;
  return { id, path, name: `audio/${fileNameOf([called], endingOf(type) ?? 'm4a')}` };
}

const wholeName = (said: Heard, to: Heard | undefined) =>
  to ? `${said.authorName} to ${to.authorName}` : said.authorName;

/** Everything in the order of threads, numbered from 1, with what it replies to. */
function inOrder(threads: readonly Thread<Heard>[]) {
  let number = 0;
  return threads.flatMap((thread, t) => {
    const byId = new Map(thread.in.map(p => [p.said.id, p.said]));
    return thread.in.map((placed: Placed<Heard>) => ({
      ...placed,
      number: ++number,
      thread: t + 1,
      to: placed.said.parentId ? byId.get(placed.said.parentId) : undefined,
    }));
  });
}

/** How many steps there are: one for each sound. */
export function stepsOf(view: LeadView): number {
  return threadsIn(view)
    .flatMap(t => t.in)
    .filter(p => p.said.voiceId).length;
}

const STYLE = `
:root { color-scheme: light dark; --ground: #e9eef1; --sheet: #fff; --ink: #152230; --soft: #4d5d6b; --petrol: #1f7f8b; --saffron: #d99a1c; --line: #c9d3da }
@media (prefers-color-scheme: dark) { :root { --ground: #0e1720; --sheet: #16222e; --ink: #e8eef2; --soft: #a9b7c2; --petrol: #4bb3bf; --saffron: #e9b54a; --line: #33434f } }
* { box-sizing: border-box }
body { margin: 0; background: var(--ground); color: var(--ink); font: 1.0625rem/1.5 system-ui, sans-serif }
main { max-width: 48rem; margin: 0 auto; padding: 1.5rem 1rem 4rem }
h1 { margin: 0; font-size: 1.9rem; line-height: 1.2 } h2 { margin: 2rem 0 .5rem; font-size: 1.25rem }
h3 { margin: 0; font-size: 1.05rem } p { margin: .4rem 0; white-space: pre-wrap; overflow-wrap: anywhere }
.soft { color: var(--soft); font-size: .95rem } ol { list-style: none; margin: 0 0 1rem; padding: 0; display: grid; gap: 1px }
li { background: var(--sheet); padding: .75rem 1rem; border-inline-start: 6px solid var(--petrol) }
li.teacher { border-color: var(--saffron) }
audio, video { display: block; width: 100%; margin-top: .5rem } video { max-height: 60vh; background: #000 }
img { display: block; max-width: 100%; max-height: 50vh; margin-top: .5rem }
`;

/**
 * The discussion as files of a ZIP: index.html in threads, which plays without a network, each sound and picture, and a CSV.
 * @throws NotWanted where a step is told so
 */
export async function writeTalk(
  path: string,
  view: LeadView,
  recordings: Recordings,
  onStep: OnStep,
): Promise<void> {
  const e = escapeHtml;
  const all = inOrder(threadsIn(view));
  const topics = topicsOf(view.content);
  const words = (text: string) => (text.trim() ? `<p dir="auto">${e(text)}</p>` : '');
  const rows: (string | number)[][] = [];
  const parts = new Map<string, string[]>();
  await zipped(path, async zip => {
    const add = ({ path: from, name }: { path: string; name: string }) =>
      zip.addFile(from, name, { compress: false });
    for (const { said, depth, number, thread, to } of all) {
      const sound = said.voiceId
        ? await soundOf(recordings, said.voiceId, `${String(number).padStart(3, '0')} ${said.authorName}`)
        : null;
      if (sound) add(sound);
      const shown = said.pictureId
        ? await recordings.served.showing(said.pictureId, null).catch(() => null)
        : null;
      const picture =
        shown && `pictures/${String(number).padStart(3, '0')}.${endingOf(shown.type) ?? 'webp'}`;
      if (shown && picture) add({ path: shown.path, name: picture });
      const moment =
        said.fromMs !== null && said.toMs !== null ? `, ${clock(said.fromMs)}–${clock(said.toMs)}` : '';
      const player = said.medium === 'video' ? 'video' : 'audio';
      const html = `<li${said.isTeacher ? ' class="teacher"' : ''} style="margin-inline-start:${Math.min(depth, 4) * 1.25}rem">
<h3 dir="auto">${number}. ${e(said.authorName)}</h3>
<p class="soft">${e(said.at.slice(0, 16).replace('T', ' '))} UTC${said.durationMs === null || !sound ? '' : ` · ${clock(said.durationMs)}`}${
        to ? ` · to <span dir="auto">${e(to.authorName)}</span>${moment}` : ''
      }</p>${said.title ? `<p dir="auto"><strong>${e(said.title)}</strong></p>` : ''}${
        sound
          ? `<${player} controls preload="none" src="${encodeURI(sound.name)}" aria-label="${e(said.authorName)}"></${player}>`
          : ''
      }${words(said.words)}${picture ? `<img src="${encodeURI(picture)}" alt="">` : ''}</li>`;
      const at = parts.get(said.topicId ?? '') ?? [];
      at.push(depth === 0 ? `</ol><ol>${html}` : html);
      parts.set(said.topicId ?? '', at);
      rows.push([
        number,
        thread,
        said.at,
        said.authorName,
        said.isTeacher ? 'teacher' : 'student',
        said.circle || '',
        to?.authorName ?? '',
        said.fromMs === null ? '' : said.fromMs / 1000,
        said.toMs === null ? '' : said.toMs / 1000,
        said.durationMs === null ? '' : said.durationMs / 1000,
        said.title,
        said.words,
        sound?.name ?? '',
      ]);
      if (said.voiceId && !(await onStep())) throw new NotWanted();
    }
    const section = (title: string, id: string) => {
      const own = parts.get(id);
      return `<section><h2 dir="auto">${e(title)}</h2><ol>${own?.join('\n') ?? ''}</ol></section>`;
    };
    const { directions } = view.content;
    zip.addBuffer(
      Buffer.from(`<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1">
<title>${e(view.title)}</title><style>${STYLE}</style></head><body><main>
<h1 dir="auto">${e(view.title)}</h1><p class="soft" dir="auto">${e(view.className)}</p>${words(directions)}
${section(talkOf(view.content)?.promptText ?? '', '')}
${topics.map((topic, n) => section(topic.promptText || `Starting point ${n + 1}`, topic.id)).join('\n')}
</main></body></html>
`),
      'index.html',
    );
    zip.addBuffer(
      Buffer.from(
        `\ufeff${Papa.unparse(
          {
            fields: [
              'number',
              'thread',
              'at (UTC)',
              'who',
              'as',
              'circle',
              'replies to',
              'from (s)',
              'to (s)',
              'length (s)',
              'title',
              'words',
              'file',
            ],
            data: rows,
          },
          { escapeFormulae: true },
        )}\r\n`,
      ),
      'contributions.csv',
    );
  });
}

/** Quiet between two contributions, in ms. */
const GAP_MS = 600;

/**
 * The discussion as one sound, in the order of threads, with a chapter each: M4A and Matroska, and the chapters as WebVTT.
 * @throws NotWanted where a step is told so
 */
export async function writeTalkSound(
  path: string,
  view: LeadView,
  recordings: Recordings,
  worker: Worker,
  onStep: OnStep,
): Promise<void> {
  const folder = await mkdtemp(`${path}.`);
  try {
    const chapters: Chapter[] = [];
    const files: string[] = [];
    let atMs = 0;
    for (const { said, to, number } of inOrder(threadsIn(view))) {
      if (!said.voiceId) continue;
      const { path: input } = await recordings.served.playing(said.voiceId);
      const output = join(folder, `${number}.flac`);
      const lengthMs = await worker({ kind: 'asPart', input, output, gapMs: GAP_MS });
      files.push(output);
      chapters.push({ title: wholeName(said, to), fromMs: atMs, toMs: atMs + lengthMs });
      atMs += lengthMs;
      if (!(await onStep())) throw new NotWanted();
    }
    const called = fileNameOf([view.title], 'm4a').replace(/\.m4a$/, '');
    const list = join(folder, 'parts.txt');
    const metadata = join(folder, 'chapters.txt');
    // Names are our own numbers: nothing in them needs a quote.
    await writeFile(list, files.map(f => `file '${f}'\n`).join(''));
    await writeFile(metadata, chaptersMetadata(view.title, chapters));
    const made = { m4a: join(folder, 'whole.m4a'), mka: join(folder, 'whole.mka') };
    await worker({ kind: 'joinParts', list, metadata, output: made.m4a, matroska: made.mka, lengthMs: atMs });
    if (!(await onStep())) throw new NotWanted();
    await zipped(path, async zip => {
      zip.addFile(made.m4a, `${called}.m4a`, { compress: false });
      zip.addFile(made.mka, `${called}.mka`, { compress: false });
      zip.addBuffer(Buffer.from(chaptersVtt(chapters)), `${called}.chapters.vtt`);
    });
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}
