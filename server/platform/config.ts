import { readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import type { MailConfig } from './mail/mailer';

export interface Config {
  port: number;
  host: string;
  dataDir: string;
  database: { host: string; port: number; user: string; password: string; database: string };
  /** Certificate and key for HTTPS, PEM. Without them the server speaks plain HTTP (enough on localhost). */
  tls: { cert: Buffer; key: Buffer } | null;
  /** Folder of the built interface. */
  webDir: string;
  sessionSecret: string;
  /** Where people find this Ecoute, for links that leave it (mail, calendars, posters); without a slash at the end. */
  baseUrl: string;
  /** Mail that goes out; null where none does. */
  mail: MailConfig | null;
  /** Shows what the simulated mailbox received: in the demo, and in tests. */
  showsMailbox: boolean;
  /** True in tests only: turns rate limits up so that many sign-ins from one address pass. */
  relaxedLimits: boolean;
}

/** Where a program keeps its things: `ECOUTE_DATA`, or `.ecoute` beside the code. */
export function dataDir(env: NodeJS.ProcessEnv = process.env): string {
  return resolve(env.ECOUTE_DATA ?? '.ecoute');
}

/** The port to serve on. @throws Error with the next step when it is not a port number. */
export function portOf(env: NodeJS.ProcessEnv = process.env): number {
  const text = env.ECOUTE_PORT ?? '4310';
  const port = Number(text);
  if (!Number.isInteger(port) || port < 1 || port > 65_535)
    throw new Error(`ECOUTE_PORT is "${text}". Give a number from 1 to 65535, for example ECOUTE_PORT=4310.`);
  return port;
}

/** Reads the certificate pair. @throws Error when only one half is given or a file cannot be read. */
export function tlsOf(env: NodeJS.ProcessEnv = process.env): Config['tls'] {
  const { ECOUTE_TLS_CERT: cert, ECOUTE_TLS_KEY: key } = env;
  if (!cert && !key) return null;
  if (!cert || !key)
    throw new Error('HTTPS needs both ECOUTE_TLS_CERT and ECOUTE_TLS_KEY (paths of PEM files).');
  return { cert: readFileSync(cert), key: readFileSync(key) };
}
