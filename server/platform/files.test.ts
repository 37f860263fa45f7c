import { existsSync, mkdtempSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { text } from 'node:stream/consumers';
import { dataDir, portOf, tlsOf } from './config';
import { DiskFileStore } from './files';

describe('the file store', () => {
  let folder: string;
  let files: DiskFileStore;
  beforeEach(() => {
    folder = mkdtempSync(join(tmpdir(), 'ecoute-files-'));
    files = new DiskFileStore(folder);
  });
  afterEach(() => rmSync(folder, { recursive: true }));

  it('gives back what was put, whole or in part', async () => {
    await files.put('peaks/a.json', 'abcdef');
    expect((await files.read('peaks/a.json')).toString()).toBe('abcdef');
    expect(await text(files.open('peaks/a.json', { start: 1, end: 3 }))).toBe('bcd');
    expect(await files.size('peaks/a.json')).toBe(6);
    expect(await files.size('peaks/b.json')).toBeNull();
  });

  it('replaces a file in one step and leaves nothing half-written beside it', async () => {
    await files.put('x/a', 'first');
    await files.put('x/a', 'second');
    expect((await files.read('x/a')).toString()).toBe('second');
    expect(existsSync(join(folder, 'x/a.part'))).toBe(false);
    writeFileSync(join(folder, 'x/made-elsewhere'), 'third');
    await files.adopt(join(folder, 'x/made-elsewhere'), 'x/a');
    expect((await files.read('x/a')).toString()).toBe('third');
  });

  it('keeps what is put or brought for its own user alone', async () => {
    const brought = join(folder, 'brought');
    writeFileSync(brought, 'sound', { mode: 0o644 });
    await files.put('a/put', 'x');
    await files.bring(brought, 'b/brought');
    expect(await text(files.open('b/brought'))).toBe('sound');
    for (const [path, mode] of [
      ['a', 0o700],
      ['b', 0o700],
      ['a/put', 0o600],
      ['b/brought', 0o600],
    ] as const)
      expect([path, statSync(join(folder, path)).mode & 0o777]).toEqual([path, mode]);
  });

  it('lets no key lead out of its folder', async () => {
    for (const key of ['../secret', 'x/../../secret', '/etc/passwd/../../..', '..'])
      if (key.startsWith('/')) expect(files.localPath('etc/passwd')).toBe(join(folder, 'etc/passwd'));
      else expect(() => files.localPath(key)).toThrow(RangeError);
    await expect(files.put('../secret', 'x')).rejects.toThrow('leads out');
  });
});

describe('the configuration', () => {
  it('takes a port or says what a port is', () => {
    expect(portOf({})).toBe(4310);
    expect(portOf({ ECOUTE_PORT: '8080' })).toBe(8080);
    for (const wrong of ['eighty', '0', '70000', '80.5'])
      expect(() => portOf({ ECOUTE_PORT: wrong })).toThrow('from 1 to 65535');
  });

  it('keeps data where it is told', () => {
    expect(dataDir({ ECOUTE_DATA: '/srv/ecoute' })).toBe('/srv/ecoute');
    expect(dataDir({})).toMatch(/\.ecoute$/);
  });

  it('wants a certificate and its key, or neither', () => {
    expect(tlsOf({})).toBeNull();
    expect(() => tlsOf({ ECOUTE_TLS_CERT: 'a.pem' })).toThrow('both ECOUTE_TLS_CERT and ECOUTE_TLS_KEY');
    expect(() => tlsOf({ ECOUTE_TLS_CERT: '/nowhere.pem', ECOUTE_TLS_KEY: '/nowhere.key' })).toThrow(
      'nowhere.pem',
    );
  });
});
