/** Chapters of a sound, as other programs read them: WebVTT (W3C), and the metadata text that ffmpeg puts into a file. */

export interface Chapter {
  title: string;
  fromMs: number;
  toMs: number;
}

/** A WebVTT timestamp, with hours always: "01:02:03.456". */
function stamp(ms: number): string {
  const whole = Math.max(0, Math.round(ms));
  const pad = (n: number, digits = 2) => String(n).padStart(digits, '0');
  return `${pad(Math.floor(whole / 3_600_000))}:${pad(Math.floor(whole / 60_000) % 60)}:${pad(
    Math.floor(whole / 1_000) % 60,
  )}.${pad(whole % 1_000, 3)}`;
}

/** One line, for a title is one. */
const inLine = (title: string) => title.replace(/\s+/g, ' ').trim();

/** Chapters as WebVTT: a cue each, its title as plain text. */
export function chaptersVtt(chapters: readonly Chapter[]): string {
  const cues = chapters.map(({ title, fromMs, toMs }, i) => {
    // The arrow would end the cue's text, and what looks like a tag is none.
    const says = inLine(title).replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;');
    return `${i + 1}\n${stamp(fromMs)} --> ${stamp(toMs)}\n${says}\n`;
  });
  return `WEBVTT\n\n${cues.join('\n')}`;
}

/** The same as ffmpeg's metadata text (format `ffmetadata`). @param title of the whole */
export function chaptersMetadata(title: string, chapters: readonly Chapter[]): string {
  const escaped = (text: string) => inLine(text).replace(/[=;#\\]/g, '\\$&');
  const parts = chapters.map(
    c =>
      `[CHAPTER]\nTIMEBASE=1/1000\nSTART=${Math.round(c.fromMs)}\nEND=${Math.round(c.toMs)}\ntitle=${escaped(c.title)}\n`,
  );
  return `;FFMETADATA1\ntitle=${escaped(title)}\n${parts.join('')}`;
}
