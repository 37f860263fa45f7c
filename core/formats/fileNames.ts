/** Names of files that every system takes, and that still say whose and what they are. */

/** What some system does not take in a name, and what would lead out of a folder. */
// eslint-disable-next-line no-control-regex -- these are what is meant
const FORBIDDEN = /[\u0000-\u001f\u007f<>:"/\\|?*\u200e\u200f\u202a-\u202e\u2066-\u2069]/g;
/** Names that one widespread system keeps for its own devices, with whatever ending. */
const DEVICES = /^(con|prn|aux|nul|com[0-9]|lpt[0-9])(?=$|\.)/i;
const LONGEST_PART = 60;

function part(text: string): string {
  const clean = text
    .normalize('NFC')
    .replace(FORBIDDEN, ' ')
    .replace(/\s+/g, ' ')
    .trim()
    // A leading dot hides a file, a trailing one is lost on some systems.
    .replace(/^[. ]+|[. ]+$/g, '');
  return [...clean]
    .slice(0, LONGEST_PART)
    .join('')
    .replace(/[. ]+$/, '')
    .replace(DEVICES, '$1_');
}

/**
 * A name from parts, such as “Amara Okonjo - item 1 - take 2.m4a”.
 * @param folder one folder that it lies in
 */
export function fileNameOf(parts: readonly string[], ending: string, folder?: string): string {
  const name = parts.map(part).filter(Boolean).join(' - ') || 'recording';
  const inside = folder === undefined ? '' : `${part(folder) || 'student'}/`;
  return `${inside}${name}.${ending}`;
}

/** Columns of the index beside the recordings of a release. */
export const INDEX_COLUMNS = [
  'file',
  'student',
  'item',
  'prompt',
  'take',
  'counts',
  'seconds',
  'recorded',
  'late',
  'points',
  'comment',
] as const;
