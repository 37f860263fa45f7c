import fc from 'fast-check';
import { encodingOf, isUtf8 } from './encoding';
import { oneRosterOf, rosterOfOneRoster } from './oneRoster';
import { columnsOf, factorOf, fullName, nameKey, signInKey, rosterOfList, signInNameFor } from './roster';

const read = (rows: string[][]) => rosterOfList(rows, columnsOf(rows));

describe('a class list', () => {
  it('knows its columns by headings in several languages', () => {
    expect(columnsOf([['Prénom', 'Nom de famille', 'Courriel', 'Groupe', 'Remarques']]).columns).toEqual([
      'givenName',
      'familyName',
      'email',
      'group',
      null,
    ]);
    expect(columnsOf([['Nome completo', 'Turma', 'Correio eletrónico']]).columns).toEqual([
      'name',
      'className',
      'email',
    ]);
    expect(columnsOf([['Student', 'User name', 'Student ID', 'Extra time']]).columns).toEqual([
      'name',
      'signInName',
      'externalId',
      'extraTime',
    ]);
    expect(columnsOf([['Vorname', 'Nachname', 'E-Mail', 'Klasse']]).columns).toEqual([
      'givenName',
      'familyName',
      'email',
      'className',
    ]);
  });

  it('knows them by what is in them where there are no headings', () => {
    const rows = [
      ['1', 'Layla Haddad', 'layla@school.example'],
      ['2', 'さくら 花村', 'sakura@school.example'],
    ];
    expect(columnsOf(rows)).toEqual({ columns: [null, 'name', 'email'], hasHeader: false });
    expect(read(rows).people.map(p => p.name)).toEqual(['Layla Haddad', 'さくら 花村']);
  });

  it('takes names in any script and says row by row what it leaves out', () => {
    const { people, problems } = read([
      ['Name', 'Mail', 'Login', 'Extra time'],
      ['ليلى الحداد', 'layla@s.example', 'layla', '25 %'],
      ['  Åse   Ødegård ', '', '', ''],
      ['', 'nobody@s.example', '', ''],
      ['Rui', 'rui at s.example', '', ''],
      ['Ana', '', 'ana maria', ''],
      ['Bo', '', '', 'lots'],
      ['', '', '', ''],
      ['x'.repeat(121), '', '', ''],
    ]);
    expect(people.map(p => [p.row, p.name, p.extraTime])).toEqual([
      [2, 'ليلى الحداد', 1.25],
      [3, 'Åse Ødegård', null],
    ]);
    expect(problems).toEqual([
      { row: 4, why: 'has no name' },
      { row: 5, name: 'Rui', why: 'has a mail address that is none: rui at s.example' },
      { row: 6, name: 'Ana', why: 'has a sign-in name with spaces' },
      { row: 7, name: 'Bo', why: 'has an extra time that is none: write 1.25, or 25 %' },
      { row: 9, name: 'x'.repeat(120), why: 'has more than 120 characters in one cell' },
    ]);
  });

  it('puts the family first where names are written so', () => {
    expect(fullName('光', '田中')).toBe('田中 光');
    expect(fullName('Maren', 'Østby')).toBe('Maren Østby');
    expect(fullName('', 'Quist')).toBe('Quist');
    expect(signInKey(' Bra\u0304m@B.Example ')).toBe('brām@b.example');
  });

  it('takes the same person in two classes once, and twice in one class not at all', () => {
    const roster = read([
      ['name', 'email', 'class'],
      ['Rui Pires', 'rui@s.example', 'A2'],
      ['Rui Pires', 'RUI@s.example', 'Choir'],
      ['Rui Pires', 'rui@s.example', 'A2'],
    ]);
    expect(roster.people).toHaveLength(1);
    expect(roster.memberships.map(m => m.classKey)).toEqual(['A2', 'Choir']);
    expect(roster.problems).toEqual([{ row: 4, name: 'Rui Pires', why: 'is in the list already' }]);
  });

  it.each([
    ['1.5', 1.5],
    ['1,25', 1.25],
    ['25 %', 1.25],
    ['+50%', 1.5],
    ['150 %', 1.5],
    ['', null],
    ['–', null],
    ['0.5', undefined],
    ['half', undefined],
  ])('reads %s as a factor', (text, factor) => expect(factorOf(text)).toBe(factor));

  it('compares names whatever their order, case and accents', () => {
    expect(nameKey('Péreira, João')).toBe(nameKey('joao pereira'));
    expect(nameKey('花村 さくら')).toBe(nameKey('さくら 花村'));
    expect(nameKey('Ana')).not.toBe(nameKey('Anna'));
  });

  it('finds a free sign-in name for any name', () => {
    const taken = new Set<string>(['joao.pereira', 'joao.pereira2', 'student1']);
    expect(signInNameFor('João Pereira', n => taken.has(n))).toBe('joao.pereira3');
    expect(signInNameFor('さくら', n => taken.has(n))).toBe('student2');
    fc.assert(
      fc.property(fc.string(), name => {
        expect(signInNameFor(name, n => n.length % 2 === 0)).toMatch(/^[a-z0-9.]+$/);
      }),
    );
  });
});

describe('encodings', () => {
  const utf16 = (text: string, big: boolean) =>
    Uint8Array.from(
      [...text].flatMap(c =>
        big ? [c.charCodeAt(0) >> 8, c.charCodeAt(0) & 255] : [c.charCodeAt(0) & 255, c.charCodeAt(0) >> 8],
      ),
    );

  it('are told apart by their marks, their zero bytes and their form', () => {
    expect(encodingOf(Uint8Array.from([0xff, 0xfe, 65, 0]))).toBe('utf-16le');
    expect(encodingOf(Uint8Array.from([0xfe, 0xff, 0, 65]))).toBe('utf-16be');
    expect(encodingOf(utf16('name;mail', false))).toBe('utf-16le');
    expect(encodingOf(utf16('name;mail', true))).toBe('utf-16be');
    expect(encodingOf(new TextEncoder().encode('\ufeffJoão'))).toBe('utf-8');
    expect(encodingOf(Uint8Array.from([74, 111, 0xe3, 111]))).toBe('windows-1252');
    expect(encodingOf(new Uint8Array())).toBe('utf-8');
  });

  it('are UTF-8 just where a strict decoder agrees', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 12 }), bytes => {
        let strict = true;
        try {
          new TextDecoder('utf-8', { fatal: true }).decode(bytes);
        } catch {
          strict = false;
        }
        expect(isUtf8(bytes)).toBe(strict);
      }),
      { numRuns: 3_000 },
    );
    fc.assert(fc.property(fc.string({ unit: 'grapheme' }), text => isUtf8(new TextEncoder().encode(text))));
  });
});

describe('OneRoster', () => {
  const classes = [
    {
      id: 'c1',
      name: 'Recorder; first year',
      people: [
        {
          id: 't1',
          givenName: 'Tobias',
          familyName: 'Rennick',
          signInName: 'tobias',
          email: null,
          role: 'teacher' as const,
        },
        {
          id: 's1',
          givenName: '=SUM(A1)',
          familyName: 'Tassin',
          signInName: 'mireille',
          email: 'm@b.example',
          role: 'student' as const,
        },
      ],
    },
    { id: 'c2', name: 'Empty', people: [] },
  ];

  it.each(['1.1', '1.2'] as const)('%s comes back as it went out', version => {
    const files = oneRosterOf(classes, { version, school: 'Brackwater', today: '2026-11-25' });
    expect(files['manifest.csv']).toContain(`oneroster.version,${version}`);
    expect('roles.csv' in files).toBe(version === '1.2');
    const roster = rosterOfOneRoster(files);
    expect(roster.problems).toEqual([]);
    expect(roster.classes.map(c => c.name)).toEqual(['Recorder; first year', 'Empty']);
    expect(roster.people.map(p => [p.externalId, p.signInName, p.email, p.role])).toEqual([
      ['t1', 'tobias', null, 'teacher'],
      ['s1', 'mireille', 'm@b.example', 'student'],
    ]);
    // What a spreadsheet would compute is kept from it.
    expect(files['users.csv']).toContain("'=SUM(A1)");
  });

  it('leaves out what is to be deleted and says what does not fit', () => {
    const files = {
      'in/Users.csv':
        '\ufeffsourcedId,status,enabledUser,role,username,givenName,familyName,email\r\nu1,active,true,student,ana,Ana,Reis,\r\nu2,tobedeleted,true,student,old,Old,One,\r\n,active,true,student,x,X,Y,\r\nu3,active,true,student,lone,Lone,One,',
      'in/classes.csv': 'sourcedId,status,title\nk1,active,A2\nk2,tobedeleted,Gone',
      'in/enrollments.csv':
        'sourcedId,classSourcedId,userSourcedId,role\ne1,k1,u1,student\ne2,k2,u1,student\ne3,k1,u9,student\ne4,k1,u1,student\ne5,k1,u3,guardian',
    };
    const roster = rosterOfOneRoster(files);
    expect(roster.people.map(p => p.name)).toEqual(['Ana Reis']);
    expect(roster.problems.map(p => p.why)).toEqual([
      'of users.csv has no sourcedId',
      'of enrollments.csv names a class that is not here: k2',
      'of enrollments.csv names somebody who is not here: u9',
      'of enrollments.csv is there already',
    ]);
    expect(() => rosterOfOneRoster({ 'users.csv': '' })).toThrow('has no classes.csv');
  });
});
