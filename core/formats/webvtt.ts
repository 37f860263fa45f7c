/**
 * Timed notes as WebVTT, so that any player of the open web can show them (W3C, WebVTT: The Web Video Text Tracks
 * Format).
 */

export interface Cue {
  fromMs: number;
  toMs: number;
  /** May have several lines. */
  words: string;
  /** Who says it; written as a voice. */
  voice?: string;
}

/** A time as `hh:mm:ss.ttt`. @param ms not negative */
export function vttTime(ms: number): string {
  const whole = Math.max(0, Math.round(ms));
  const two = (n: number) => String(n).padStart(2, '0');
  const seconds = Math.floor(whole / 1000);
  return `${two(Math.floor(seconds / 3600))}:${two(Math.floor(seconds / 60) % 60)}:${two(seconds % 60)}.${String(
    whole % 1000,
  ).padStart(3, '0')}`;
}

/** Text of a cue: `&`, `<` and `>` have a meaning there, and an empty line would end the cue. */
function cueText(words: string): string {
  return words
    .replace(/&/g, '&amp;')
    .replace(/</g, '&lt;')
    .replace(/>/g, '&gt;')
    .split(/\r\n|\r|\n/)
    .map(line => line.trim())
    .filter(line => line !== '')
    .join('\n');
}

/**
 * @param title written as a comment; line breaks and arrows in it are taken out, for they would end it
 * @param cues  in any order; those without words are left out
 * @returns a whole WebVTT file
 */
export function writeVtt(title: string, cues: readonly Cue[]): string {
  const said = title.replace(/\s+/g, ' ').replace(/-->/g, '→').trim();
  const blocks = [...cues]
    .sort((a, b) => a.fromMs - b.fromMs || a.toMs - b.toMs)
    .flatMap(({ fromMs, toMs, words, voice }) => {
      const text = cueText(words);
      if (text === '') return [];
      const speaker = voice ? `<v ${cueText(voice).replace(/\s+/g, ' ')}>` : '';
      return [`${vttTime(fromMs)} --> ${vttTime(Math.max(toMs, fromMs + 1))}\n${speaker}${text}`];
    })
    .map((block, i) => `${i + 1}\n${block}`);
  return `${['WEBVTT', ...(said ? [`NOTE ${said}`] : []), ...blocks].join('\n\n')}\n`;
}
