/** Pictures: shown as a copy that is no larger than a screen and says nothing of where it was taken. */
import { asked, READ_ONLY, tool } from './tools';

const PICTURES = new Set([
  'image/png',
  'image/jpeg',
  'image/webp',
  'image/gif',
  'image/bmp',
  'image/tiff',
  'image/avif',
]);
const LARGEST_SIDE_PX = 2_000;
/** More than this is a bomb or a poster; neither is needed. */
const MOST_PIXELS = 120_000_000;

export function isPicture(mime: string | null): boolean {
  return mime !== null && PICTURES.has(mime);
}

/**
 * Makes the copy of a picture that is shown: WebP, turned upright, scaled down, without camera or place.
 * @returns its size in px, or null when the picture cannot be read
 */
export async function makePicture(
  input: string,
  output: string,
): Promise<{ widthPx: number; heightPx: number } | null> {
  const before = await sizeOf(input);
  if (!before || before.widthPx * before.heightPx > MOST_PIXELS) return null;
  const side = LARGEST_SIDE_PX;
  const scale = `scale='min(${side},iw)':'min(${side},ih)':force_original_aspect_ratio=decrease`;
  const args = ['-y', '-i', input, '-frames:v', '1', '-map_metadata', '-1', '-vf', scale];
  const { code } = await tool('ffmpeg', [...READ_ONLY, ...args, '-quality', '86', '-f', 'webp', output]);
  return code === 0 ? sizeOf(output) : null;
}

/** A still of a film, for the place where it is seen before it plays: of its first frames, past a dark beginning. */
export async function makeStill(film: string, output: string): Promise<void> {
  const chosen = `thumbnail=25,scale='min(960,iw)':-2`;
  const args = ['-y', '-t', '2', '-i', film, '-frames:v', '1', '-map_metadata', '-1', '-vf', chosen];
  await tool('ffmpeg', [...READ_ONLY, ...args, '-quality', '80', '-f', 'webp', output]);
}

async function sizeOf(path: string): Promise<{ widthPx: number; heightPx: number } | null> {
  const which = ['-select_streams', 'v:0', '-show_entries', 'stream=width,height', '-of', 'csv=p=0', path];
  const { code, out } = await asked('ffprobe', [...READ_ONLY, ...which]);
  const [widthPx, heightPx] = out.trim().split(',').map(Number);
  return code === 0 && widthPx && heightPx ? { widthPx, heightPx } : null;
}
