/**
 * The manifest of an assessment package (docs/package-format.md): the content with labels in place of this
 * Ecoute's ids, so that the same assessment makes the same package wherever it is.
 */
import { AssessmentContent } from '@ecoute/contract/assessments';
import { completed } from '@ecoute/contract/blank';
import { check } from '@ecoute/contract/validation';

export const FORMAT = 'ecoute-assessment';
/** 2 added formatted text, things to look at, tags and self-assessment; packages of 1 are read as well. */
export const VERSION = 2;

export interface MediaEntry {
  /** The label that the content uses: `m1`, `m2` … */
  label: string;
  path: string;
  mediaType: string;
  sizeBytes: number;
  sha256: string;
}

export interface Manifest {
  format: typeof FORMAT;
  version: number;
  content: unknown;
  media: MediaEntry[];
}

const MEDIA_KEYS = new Set(['recordingId', 'promptRecordingId']);
const THING_KEYS = new Set(['id', 'sectionId']);

type Relabel = { media: (id: string) => string; thing: (id: string) => string };

/** A copy with every id put through; keys in order of the alphabet, so that the copy is the same everywhere. */
function relabelled(value: unknown, by: Relabel, key = ''): unknown {
  if (Array.isArray(value)) return value.map(v => relabelled(v, by));
  if (value !== null && typeof value === 'object')
    return Object.fromEntries(
      Object.entries(value)
        .sort(([a], [b]) => (a < b ? -1 : a > b ? 1 : 0))
        .map(([k, v]) => [k, relabelled(v, by, k)]),
    );
  if (typeof value !== 'string') return value;
  if (MEDIA_KEYS.has(key)) return by.media(value);
  if (THING_KEYS.has(key)) return by.thing(value);
  return value;
}

/** Labels by first appearance: `m1`, `m2` … */
function labels(letter: string): { of: (id: string) => string; all: Map<string, string> } {
  const all = new Map<string, string>();
  return {
    all,
    of: id => {
      const known = all.get(id) ?? `${letter}${all.size + 1}`;
      all.set(id, known);
      return known;
    },
  };
}

/** The content as a package carries it, and the sounds that belong to it by label. */
export function packed(content: AssessmentContent): { content: unknown; media: Map<string, string> } {
  const [media, things] = [labels('m'), labels('x')];
  const out = relabelled(JSON.parse(JSON.stringify(content)), { media: media.of, thing: things.of });
  return { content: out, media: new Map([...media.all].map(([id, label]) => [label, id])) };
}

/** The manifest as it is written: the same bytes for the same manifest. */
export function written(manifest: Manifest): string {
  return `${JSON.stringify(relabelled(manifest, { media: s => s, thing: s => s }), null, 2)}\n`;
}

export interface Unpacked {
  content: AssessmentContent | null;
  adapted: string[];
  refused: string[];
}

/**
 * Turns a manifest's content into an assessment of this Ecoute.
 * @param newId   makes an identity
 * @param mediaId the new identity of a sound, by its label; undefined for a label that the package does not hold
 */
export function unpacked(
  content: unknown,
  newId: () => string,
  mediaId: (label: string) => string | undefined,
): Unpacked {
  const things = new Map<string, string>();
  const refused = new Set<string>();
  const given = relabelled(content, {
    media: label => {
      const id = mediaId(label);
      if (id === undefined)
        refused.add(`The content uses a sound “${label}” that the package does not hold.`);
      return id ?? newId();
    },
    thing: label => {
      const id = things.get(label) ?? newId();
      things.set(label, id);
      return id;
    },
  });
  const checked = check(AssessmentContent, completedIfWhole(given));
  for (const [path, message] of Object.entries(checked.fields ?? {}))
    refused.add(path ? `${path}: ${message}` : message);
  const adapted = checked.value ? unknownFields(given, checked.value) : [];
  return {
    content: checked.value && refused.size === 0 ? checked.value : null,
    adapted: adapted.map(path => `${path} is not known to this Ecoute and was left out.`),
    refused: [...refused],
  };
}

/** Content of an older format gets what was not thought of then; what is no content at all stays for the check. */
function completedIfWhole(given: unknown): unknown {
  const items = (given as Partial<AssessmentContent> | null)?.items;
  const whole = Array.isArray(items) && items.every(i => i !== null && typeof i === 'object');
  return whole ? completed(given as AssessmentContent) : given;
}

/** Paths that were given and that checking took away. */
function unknownFields(given: unknown, kept: unknown, path = ''): string[] {
  if (Array.isArray(given) && Array.isArray(kept))
    return given.flatMap((g, i) => unknownFields(g, kept[i], `${path}.${i}`));
  if (given === null || typeof given !== 'object' || kept === null || typeof kept !== 'object') return [];
  return Object.entries(given).flatMap(([key, value]) => {
    const here = path ? `${path}.${key}` : key;
    return key in kept ? unknownFields(value, (kept as Record<string, unknown>)[key], here) : [here];
  });
}

/** The manifest in a text. @throws Error in words, with the next step */
export function manifestIn(text: string): Manifest {
  let parsed: Partial<Manifest> | null;
  try {
    parsed = JSON.parse(text) as Partial<Manifest> | null;
  } catch {
    throw new Error('The manifest of this package cannot be read. Ask for the package once more.');
  }
  if (parsed?.format !== FORMAT || typeof parsed.version !== 'number')
    throw new Error('This is a ZIP file, but no assessment package: its manifest says something else.');
  if (parsed.version > VERSION)
    throw new Error(
      `This package was made by a newer Ecoute (format ${parsed.version}; this one reads up to ${VERSION}). Update Ecoute, or ask for the package in the older format.`,
    );
  const { media } = parsed;
  const isEntry = (m: unknown): m is MediaEntry => {
    const e = m as Partial<MediaEntry> | null;
    return (
      typeof e?.label === 'string' &&
      typeof e.path === 'string' &&
      /^media\/[\w.-]+$/.test(e.path) &&
      typeof e.sizeBytes === 'number' &&
      typeof e.sha256 === 'string'
    );
  };
  if (!Array.isArray(media) || !media.every(isEntry) || typeof parsed.content !== 'object' || !parsed.content)
    throw new Error('The manifest of this package is incomplete. Ask for the package once more.');
  return parsed as Manifest;
}
