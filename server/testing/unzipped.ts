import yauzl from 'yauzl';

/** Files of a ZIP by name. */
export async function unzipped(bytes: Buffer): Promise<Map<string, Buffer>> {
  const found = new Map<string, Buffer>();
  const zip = await new Promise<yauzl.ZipFile>((resolve, reject) =>
    yauzl.fromBuffer(bytes, { lazyEntries: true }, (error, file) => (error ? reject(error) : resolve(file))),
  );
  await new Promise<void>((resolve, reject) => {
    zip.on('end', resolve).on('error', reject);
    zip.on('entry', (entry: yauzl.Entry) =>
      zip.openReadStream(entry, (error, stream) => {
        if (error) return reject(error);
        const parts: Buffer[] = [];
        stream.on('data', (part: Buffer) => parts.push(part));
        stream.on('end', () => {
          found.set(entry.fileName, Buffer.concat(parts));
          zip.readEntry();
        });
      }),
    );
    zip.readEntry();
  });
  return found;
}
