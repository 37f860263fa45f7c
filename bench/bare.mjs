// Bare counterparts, each in a process of its own: what the same bytes cost with nothing around them.
// node bench/bare.mjs static FOLDER | sink FOLDER [sync]
import { close, fdatasync, open, write } from 'node:fs';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { spawn } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import express from 'express';

const disk = {
  open: promisify(open),
  close: promisify(close),
  sync: promisify(fdatasync),
  write: promisify(write),
};

/** Appends what it is sent to a file of its own, and answers when that is written (and synced). */
async function appended(folder, { id, offset, body, isSynced }) {
  const file = await disk.open(join(folder, id), offset === 0 ? 'w' : 'r+');
  try {
    await disk.write(file, body, 0, body.length, offset);
    if (isSynced) await disk.sync(file);
  } finally {
    await disk.close(file);
  }
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  const [kind, folder, how] = process.argv.slice(2);
  const app = express();
  if (kind === 'static') app.use(express.static(folder));
  else
    app.patch('/:id', (req, res) => {
      const pieces = [];
      req.on('data', piece => pieces.push(piece));
      req.on('end', () => {
        const offset = Number(req.headers['upload-offset']);
        appended(folder, {
          id: req.params.id,
          offset,
          body: Buffer.concat(pieces),
          isSynced: how === 'sync',
        }).then(
          () => res.status(204).end(),
          () => res.status(500).end(),
        );
      });
    });
  const server = app.listen(0, '127.0.0.1', () => console.log(server.address().port));
}

/** Starts one. @returns its address, and what ends it */
export async function bare(...args) {
  const child = spawn(process.execPath, [fileURLToPath(import.meta.url), ...args], {
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  const port = await new Promise((resolve, reject) => {
    child.stdout.once('data', line => resolve(Number(line)));
    child.once('exit', code => reject(new Error(`The bare server ended with ${code}.`)));
  });
  return { address: `http://127.0.0.1:${port}`, end: () => child.kill() };
}
