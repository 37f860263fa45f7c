/**
 * Programs that Ecoute asks about files, what they are told never to do, and what holds them: a time, an amount of
 * memory and of output, and an end when the thread that asked ends. Runs in worker threads.
 */
import { spawn, type ChildProcess, type StdioOptions } from 'node:child_process';
import { existsSync } from 'node:fs';
import { setPriority } from 'node:os';

export interface Finished {
  /** Null where it was ended. */
  code: number | null;
  stderr: string;
}

export interface Bounds {
  /** It is ended after so long. */
  timeoutMs: number;
  /** The largest file that it may write, in bytes. */
  mostBytes: number;
  /** Address space, in bytes; libraries map far more than they use. */
  memoryBytes: number;
  /** Nobody waits for it: whatever somebody waits for goes first. */
  inBackground: boolean;
}

const GB = 1024 ** 3;
export const USUAL: Bounds = {
  timeoutMs: 60_000,
  mostBytes: 2 * GB,
  memoryBytes: 6 * GB,
  inBackground: false,
};

/** What is made in the background leaves the larger part to whoever waits; much lower, a busy machine never gets to it. */
const IN_BACKGROUND = 3;
/** util-linux, there on every Debian. */
const [SETPRIV, PRLIMIT] = ['/usr/bin/setpriv', '/usr/bin/prlimit'];
const holds = existsSync(SETPRIV) && existsSync(PRLIMIT);

/** Starts a program within bounds. It is killed when the thread that started it ends, also by a kill of the whole server. */
export function started(
  name: string,
  args: readonly string[],
  { timeoutMs, mostBytes, memoryBytes, inBackground }: Bounds,
  stdio: StdioOptions = ['ignore', 'pipe', 'pipe'],
): ChildProcess {
  const limits = [`--as=${memoryBytes}`, `--fsize=${mostBytes}`, '--core=0'];
  const [program, all] = holds
    ? [SETPRIV, ['--pdeathsig', 'KILL', PRLIMIT, ...limits, name, ...args]]
    : [name, [...args]];
  const child = spawn(program, all, { stdio, timeout: timeoutMs, killSignal: 'SIGKILL' });
  if (inBackground && child.pid)
    try {
      setPriority(child.pid, IN_BACKGROUND);
    } catch {
      // It has ended already.
    }
  return child;
}

/**
 * Runs a program to its end.
 * @throws Error when the program is not installed, and ENOSPC when it had no room to write: that says nothing of the file
 */
export async function tool(
  name: string,
  args: string[],
  onOut: (chunk: Buffer) => void = () => undefined,
  bounds: Partial<Bounds> = {},
): Promise<Finished> {
  const finished = await new Promise<Finished>((resolve, reject) => {
    const child = started(name, args, { ...USUAL, ...bounds });
    let stderr = '';
    child.stdout!.on('data', onOut);
    child.stderr!.on('data', (chunk: Buffer) => (stderr = (stderr + chunk.toString()).slice(-4_000)));
    child.once('error', reject);
    child.once('close', code => resolve({ code, stderr }));
  });
  // prlimit and setpriv say so with 127, or in words.
  if (finished.code === 127 || /(setpriv|prlimit): failed to execute/.test(finished.stderr))
    throw Object.assign(new Error(`${name} is not installed.`), { code: 'ENOENT' });
  if (/No space left on device|ENOSPC/.test(finished.stderr))
    throw Object.assign(new Error(`ENOSPC: ${name} had no room to write.`), { code: 'ENOSPC' });
  return finished;
}

/** More than this no program has to say. */
const MOST_PRINTED = 32 * 1024 * 1024;

/** The same, with what it printed. */
export async function asked(
  name: string,
  args: string[],
  timeoutMs = 60_000,
): Promise<Finished & { out: string }> {
  const parts: Buffer[] = [];
  let size = 0;
  const take = (chunk: Buffer) => {
    size += chunk.length;
    if (size <= MOST_PRINTED) parts.push(chunk);
  };
  const finished = await tool(name, args, take, { timeoutMs });
  return { ...finished, out: Buffer.concat(parts).toString('utf8') };
}

/** ffmpeg and ffprobe read local files only, whatever a file says. */
export const READ_ONLY = ['-v', 'error', '-protocol_whitelist', 'file'];

/** What is written into a pipe comes by the block, and not by the packet of some milliseconds: reading those took as long as decoding. */
export const BY_BLOCKS = ['-flush_packets', '0'];
