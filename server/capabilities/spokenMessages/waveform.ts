import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { READ_ONLY, tool } from '../recordings/tools';

/** Twice as fine as it is shown. Pixels. */
const [WIDTH, HEIGHT] = [1_040, 160];

/**
 * The shape of a sound as a picture that every program for mail shows.
 * @param path of the sound @returns PNG @throws Error when it could not be drawn
 */
export async function waveformPng(path: string): Promise<Buffer> {
  const folder = await mkdtemp(join(tmpdir(), 'ecoute-waveform-'));
  try {
    const picture = join(folder, 'waveform.png');
    const drawn = `[0:a:0]aformat=channel_layouts=mono,showwavespic=s=${WIDTH}x${HEIGHT}:colors=0x1f7f8b:scale=sqrt[wave]`;
    const ground = `color=c=0xdfe7eb:s=${WIDTH}x${HEIGHT}[ground]`;
    const { code, stderr } = await tool(
      'ffmpeg',
      [
        ...READ_ONLY,
        '-i',
        path,
        '-filter_complex',
        `${drawn};${ground};[ground][wave]overlay=shortest=1`,
      ].concat(['-frames:v', '1', '-y', picture]),
      undefined,
      { timeoutMs: 60_000, inBackground: true },
    );
    if (code !== 0) throw new Error(`The waveform could not be drawn: ${stderr}`);
    return await readFile(picture);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}
