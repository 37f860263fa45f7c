import { vttTime, writeVtt } from './webvtt';

describe('timed notes as WebVTT', () => {
  it('writes times with hours, minutes, seconds and thousandths', () => {
    expect([0, 1, 61_005, 3_600_000, 100 * 3_600_000].map(vttTime)).toEqual([
      '00:00:00.000',
      '00:00:00.001',
      '00:01:01.005',
      '01:00:00.000',
      '100:00:00.000',
    ]);
  });

  it('puts cues in order, with who says them', () => {
    expect(
      writeVtt('Reading', [
        { fromMs: 9_000, toMs: 12_500, words: 'Softer here.', voice: 'Inês Caldeira' },
        { fromMs: 2_000, toMs: 6_000, words: 'Well begun 🙂' },
      ]),
    ).toBe(
      'WEBVTT\n\nNOTE Reading\n\n1\n00:00:02.000 --> 00:00:06.000\nWell begun 🙂\n\n' +
        '2\n00:00:09.000 --> 00:00:12.500\n<v Inês Caldeira>Softer here.\n',
    );
  });

  it('lets no words break the file: tags, arrows, empty lines, an end before the beginning', () => {
    const text = writeVtt('a --> b\nc', [
      { fromMs: 5_000, toMs: 5_000, words: 'one <b>two</b> & three\r\n\r\n00:00 --> 00:01\n  four ' },
      { fromMs: 6_000, toMs: 7_000, words: ' \n ' },
    ]);
    expect(text).toBe(
      'WEBVTT\n\nNOTE a → b c\n\n1\n00:00:05.000 --> 00:00:05.001\n' +
        'one &lt;b&gt;two&lt;/b&gt; &amp; three\n00:00 --&gt; 00:01\nfour\n',
    );
    // Only the lines of times have arrows.
    expect(text.match(/-->/g)).toHaveLength(1);
  });
});
