import { zip } from '../../testing/files';
import { readList } from './read';

const rowsOf = async (bytes: Buffer | string) => {
  const read = await readList(typeof bytes === 'string' ? Buffer.from(bytes) : bytes);
  return read.kind === 'list' ? read.rows : null;
};

describe('reading a list', () => {
  it.each([
    ['commas', 'Name,Mail\nAna,a@b.example\n'],
    ['semicolons', 'Name;Mail\r\nAna;a@b.example\r\n'],
    ['tabs', 'Name\tMail\nAna\ta@b.example'],
    ['bars', 'Name|Mail\nAna|a@b.example'],
    ['quotes', '"Name","Mail"\n"Ana","a@b.example"'],
    ['blank lines', '\nName,Mail\n\n,\nAna,a@b.example\n\n'],
  ])('finds its cells between %s', async (_what, text) => {
    expect(await rowsOf(text)).toEqual([
      ['Name', 'Mail'],
      ['Ana', 'a@b.example'],
    ]);
  });

  it('keeps separators and line ends that are in quotes', async () => {
    expect(await rowsOf('Name,Group\n"Reis, Ana","Blue\ntable"\n')).toEqual([
      ['Name', 'Group'],
      ['Reis, Ana', 'Blue\ntable'],
    ]);
  });

  it('takes a single list out of a ZIP, and knows OneRoster by its users', async () => {
    expect(await rowsOf(await zip({ 'list.csv': 'Name\nAna\n', 'read me.txt': 'hello' }))).toEqual([
      ['Name'],
      ['Ana'],
    ]);
    const read = await readList(
      await zip({
        'export/Users.csv': 'sourcedId,givenName,familyName,role\nu1,Ana,Reis,student\n',
        'export/classes.csv': 'sourcedId,title\nc1,Choir\n',
        'export/enrollments.csv': 'sourcedId,classSourcedId,userSourcedId,role\ne1,c1,u1,student\n',
        'export/demographics.csv': 'sourcedId,birthDate\nu1,2001-01-01\n',
      }),
    );
    expect(read).toMatchObject({
      kind: 'oneRoster',
      roster: { people: [{ name: 'Ana Reis' }], classes: [{ name: 'Choir' }] },
    });
    // Only what is of people and classes is read.
    expect(JSON.stringify(read)).not.toContain('2001');
  });

  it('reads UTF-16 inside a ZIP as well', async () => {
    const utf16 = Buffer.concat([Buffer.from([0xff, 0xfe]), Buffer.from('Name\nÅse\n', 'utf16le')]);
    expect(await rowsOf(await zip({ 'list.csv': utf16 }))).toEqual([['Name'], ['Åse']]);
  });

  it('says what a broken or foreign file is, and what to do', async () => {
    const said = (bytes: Buffer | string) =>
      rowsOf(bytes).then(
        () => 'nothing',
        (error: Error) => error.message,
      );
    expect(await said('')).toContain('empty');
    expect(await said(Buffer.from([0x89, 0x50, 0x4e, 0x47, 0, 0, 1, 2, 3]))).toContain('no list');
    const whole = await zip({ 'users.csv': 'sourcedId\n'.repeat(400) });
    expect(await said(whole.subarray(0, 60))).toMatch(/no list|damaged/);
    expect(await said(await zip({ 'a.csv': 'x', 'b.csv': 'y' }))).toContain('no users.csv');
    // A sheet of results, brought back as if it were people.
    const wide = ['Student', ...Array.from({ length: 9_999 }, (_, i) => `Assessment ${i}`)].join(',');
    expect(await said(`${wide}\nRui${',5'.repeat(9_999)}\n`)).toContain('10000 columns');
  });
});
