import { chaptersMetadata, chaptersVtt } from './chapters';

const chapters = [
  { title: 'Ana', fromMs: 0, toMs: 61_250 },
  { title: 'Ben to\nAna <b>&</b> --> x = 1; #2 \\', fromMs: 61_250, toMs: 3_723_004 },
];

describe('chapters', () => {
  it('are WebVTT cues whose text is only text', () => {
    expect(chaptersVtt(chapters)).toBe(
      'WEBVTT\n\n1\n00:00:00.000 --> 00:01:01.250\nAna\n\n2\n00:01:01.250 --> 01:02:03.004\nBen to Ana &lt;b&gt;&amp;&lt;/b&gt; --&gt; x = 1; #2 \\\n',
    );
  });

  it('are metadata in which nothing ends a line or a value early', () => {
    expect(chaptersMetadata('Harbours = ours', chapters)).toBe(
      ';FFMETADATA1\ntitle=Harbours \\= ours\n' +
        '[CHAPTER]\nTIMEBASE=1/1000\nSTART=0\nEND=61250\ntitle=Ana\n' +
        '[CHAPTER]\nTIMEBASE=1/1000\nSTART=61250\nEND=3723004\ntitle=Ben to Ana <b>&</b> --> x \\= 1\\; \\#2 \\\\\n',
    );
  });

  it('of nothing are still files', () => {
    expect(chaptersVtt([])).toBe('WEBVTT\n\n');
    expect(chaptersMetadata('', [])).toBe(';FFMETADATA1\ntitle=\n');
  });
});
