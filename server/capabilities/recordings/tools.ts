/** Programs that Ecoute asks about files, and what they are told never to do. Runs in worker threads. */
import { spawn } from 'node:child_process';

export interface Finished {
  code: number | null;
  stderr: string;
}

/**
 * Runs a program to its end.
 * @param timeoutMs it is ended after so long; such an end has the code null
 * @throws Error ENOENT when the program is not installed
 */
export function tool(
  name: string,
  args: string[],
  onOut: (chunk: Buffer) => void = () => undefined,
  timeoutMs?: number,
): Promise<Finished> {
  return new Promise((resolve, reject) => {
    const child = spawn(name, args, {
      stdio: ['ignore', 'pipe', 'pipe'],
      timeout: timeoutMs,
      killSignal: 'SIGKILL',
    });
    let stderr = '';
    child.stdout.on('data', onOut);
    child.stderr.on('data', (chunk: Buffer) => (stderr = (stderr + chunk.toString()).slice(-4_000)));
    child.once('error', reject);
    child.once('close', code => resolve({ code, stderr }));
  });
}

/** The same, with what it printed. */
export async function asked(
  name: string,
  args: string[],
  timeoutMs = 60_000,
): Promise<Finished & { out: string }> {
  const parts: Buffer[] = [];
  const finished = await tool(name, args, chunk => parts.push(chunk), timeoutMs);
  return { ...finished, out: Buffer.concat(parts).toString('utf8') };
}

/** ffmpeg and ffprobe read local files only, whatever a file says. */
export const READ_ONLY = ['-v', 'error', '-protocol_whitelist', 'file'];
