import mysql, { type Connection } from 'mysql2/promise';
import type { Config } from './config';
import { log } from './log';

const CHECK_EVERY_MS = 2_000;
const ANSWER_MS = 3_000;

/**
 * Knows whether the database answers, by a line of its own: while it does not, nobody waits for it. Requests are told so
 * at once, and what is on a device stays there.
 */
export class DatabaseWatch {
  private line: Connection | null = null;
  private timer: NodeJS.Timeout | null = null;
  private stopped = true;
  private away = false;

  constructor(private readonly config: Config['database']) {}

  get isAway(): boolean {
    return this.away;
  }

  start(): void {
    this.stopped = false;
    void this.check();
  }

  async stop(): Promise<void> {
    this.stopped = true;
    if (this.timer) clearTimeout(this.timer);
    this.line?.destroy();
    this.line = null;
  }

  private async check(): Promise<void> {
    const was = this.away;
    try {
      await within(this.ask());
      this.away = false;
    } catch {
      this.line?.destroy();
      this.line = null;
      if (!this.stopped) this.away = true;
    }
    if (this.away !== was)
      log.warn(this.away ? 'The database does not answer.' : 'The database answers again.');
    if (!this.stopped) this.timer = setTimeout(() => void this.check(), CHECK_EVERY_MS).unref();
  }

  private async ask(): Promise<void> {
    if (!this.line) {
      const line = await mysql.createConnection({ ...this.config, connectTimeout: ANSWER_MS });
      // What happens to the line is seen by the next look.
      line.on('error', () => undefined);
      if (this.stopped) return line.destroy();
      this.line = line;
    }
    await this.line.query('SELECT 1');
  }
}

async function within(asked: Promise<void>): Promise<void> {
  let timer: NodeJS.Timeout | undefined;
  const silence = new Promise<never>((_, reject) => {
    timer = setTimeout(() => reject(new Error('silence')), ANSWER_MS);
  });
  asked.catch(() => undefined);
  await Promise.race([asked, silence]).finally(() => clearTimeout(timer));
}
