import { randomUUID } from 'node:crypto';
import { blankContent, blankItem } from '@ecoute/contract/blank';
import { FORMAT, manifestIn, packed, unpacked, written, type Manifest } from './manifest';

describe('the manifest of a package', () => {
  const sound = randomUUID();
  const content = blankContent('homework', {
    title: 'Two sounds that are one',
    sections: [{ id: randomUUID(), title: 'Aloud', shuffled: false }],
    items: [
      blankItem(randomUUID(), 'homework', { promptRecordingId: sound }),
      blankItem(randomUUID(), 'homework', {
        hintVoice: { recordingId: sound, durationMs: 5, isVideo: false },
      }),
    ],
  });

  it('labels each sound once, and holds no id of this Ecoute', () => {
    const { content: out, media } = packed(content);
    expect([...media]).toEqual([['m1', sound]]);
    expect(JSON.stringify(out)).not.toMatch(/[0-9a-f]{8}-[0-9a-f]{4}/);
  });

  it('is the same text whatever the order of keys and the ids', () => {
    const manifest = (c: typeof content): Manifest => ({
      format: FORMAT,
      version: 1,
      content: packed(c).content,
      media: [],
    });
    const turned = Object.fromEntries(Object.entries(content).reverse()) as typeof content;
    expect(written(manifest(turned))).toBe(written(manifest(content)));
    const renamed = { ...content, items: content.items.map(i => ({ ...i, id: randomUUID() })) };
    expect(written(manifest(renamed))).toBe(written(manifest(content)));
  });

  it('gives everything new identities that belong together as before', () => {
    const { content: back, refused } = unpacked(packed(content).content, randomUUID, () => sound);
    expect(refused).toEqual([]);
    expect(back!.items[0]!.promptRecordingId).toBe(sound);
    expect(back!.items[1]!.hintVoice!.recordingId).toBe(sound);
    expect(new Set([...back!.items, ...content.items].map(i => i.id)).size).toBe(4);
  });

  it('refuses labels that lead anywhere but into the media folder', () => {
    for (const path of ['../m1', 'media/../m1', '/etc/passwd', 'media/a/b', 'm1'])
      expect(() =>
        manifestIn(
          JSON.stringify({
            format: FORMAT,
            version: 1,
            content: {},
            media: [{ label: 'm1', path, sizeBytes: 1, sha256: 'x' }],
          }),
        ),
      ).toThrow('incomplete');
  });
});
