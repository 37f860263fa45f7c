import { FileStore as TusFileStore } from '@tus/file-store';
import type { Readable } from 'node:stream';

/** The upload protocol's own store; what it says that it has is on the disk, and not only on its way there. */
export class SyncedStore extends TusFileStore {
  constructor(
    options: ConstructorParameters<typeof TusFileStore>[0],
    private readonly sync: (id: string) => Promise<void>,
  ) {
    super(options);
  }

  override async write(readable: Readable, id: string, offset: number): Promise<number> {
    const end = await super.write(readable, id, offset);
    await this.sync(id);
    return end;
  }
}
