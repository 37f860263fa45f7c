import { createHash, randomBytes } from 'node:crypto';
import { sha256 } from './checksum';

describe('the checksum of a sound', () => {
  it('is what anybody reckons, of nothing, of a little and of much', async () => {
    for (const bytes of [0, 1, 8 * 1024 * 1024, 8 * 1024 * 1024 + 1, 21 * 1024 * 1024]) {
      const data = randomBytes(bytes);
      expect(await sha256(new Blob([data]))).toBe(createHash('sha256').update(data).digest('hex'));
    }
  });

  it('never has a large file in memory whole', async () => {
    const blob = new Blob([randomBytes(40 * 1024 * 1024)]);
    const read: number[] = [];
    const own = Blob.prototype.arrayBuffer;
    const spy = jest.spyOn(Blob.prototype, 'arrayBuffer').mockImplementation(function (this: Blob) {
      read.push(this.size);
      return own.call(this);
    });
    await sha256(blob);
    spy.mockRestore();
    expect(read.reduce((a, b) => a + b)).toBe(blob.size);
    expect(Math.max(...read)).toBeLessThan(blob.size / 4);
  });
});
