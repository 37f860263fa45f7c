import { execFile } from 'node:child_process';
import { promisify } from 'node:util';

const execFileAsync = promisify(execFile);
/** Wide enough for a page of paper, in pixels. */
const WIDEST = 1_800;

/** A picture as readers of PDF know it; null where it cannot be had: without its picture a page is still a page. */
export async function jpegOf(path: string): Promise<Buffer | null> {
  const read = ['-v', 'error', '-i', path, '-frames:v', '1'];
  const write = ['-vf', `scale='min(${WIDEST},iw)':-2`, '-q:v', '3', '-f', 'mjpeg', '-'];
  try {
    const { stdout } = await execFileAsync('ffmpeg', [...read, ...write], {
      encoding: 'buffer',
      maxBuffer: 30 * 1024 * 1024,
    });
    return stdout;
  } catch {
    return null;
  }
}
