import { READ_ONLY, tool } from '../recordings/tools';

/** Hz: of sound and film alike here. */
const RATE = 48_000;

/**
 * Lays sounds end to end in one file.
 * @param paths of the sounds, in their order @param output FLAC, 48 kHz, one channel
 * @throws Error when they could not be joined
 */
export async function joined(paths: readonly string[], output: string): Promise<void> {
  const parts = paths.map(
    (_path, i) => `[${i}:a:0]aresample=${RATE},aformat=sample_fmts=s16:channel_layouts=mono[a${i}]`,
  );
  const all = `${paths.map((_path, i) => `[a${i}]`).join('')}concat=n=${paths.length}:v=0:a=1[run]`;
  const { code, stderr } = await tool(
    'ffmpeg',
    [
      ...READ_ONLY,
      ...paths.flatMap(path => ['-i', path]),
      ...['-filter_complex', [...parts, all].join(';'), '-map', '[run]', '-c:a', 'flac', '-y', output],
    ],
    undefined,
    { timeoutMs: 300_000 },
  );
  if (code !== 0) throw new Error(`The turns could not be joined: ${stderr}`);
}
