import { ORDINARY } from '@ecoute/core/timing/arrangements';
import { stripOf } from '@ecoute/core/timing/strip';
import { blankContent, blankItem } from './blank';
import { forStudents } from './assessment/forStudents';
import { CodesFor, ImportChoices, NewGroup, NewMember, NewStudent, SetArrangement } from './classes';
import { GuestReturn, MergeGuest, NewGuest, NewLink } from './guests';
import { FirstSignIn, LookAtCode } from './people';
import {
  MoveReleases,
  NewException,
  NewHoliday,
  NewRelease,
  NewSeries,
  outlineOf,
  ReleaseTerms,
} from './releases';
import { check, type Shape } from './validation';

const ID = '11111111-1111-4111-8111-111111111111';
const AT = '2026-12-01T18:00:00Z';

/** What a class says of data, field by field; empty when it fits. */
const said = <T extends object>(shape: Shape<T>, data: object): Record<string, string> =>
  check(shape, data).fields ?? {};

describe('releases', () => {
  const terms = { dueAt: AT, lateAccepted: true, note: '' };
  const whole = { ...terms, assessmentId: ID, classId: ID };

  it('need when they are due, of what, and for whom; the rest has usual values', () => {
    expect(said(NewRelease, whole)).toEqual({});
    expect(said(ReleaseTerms, terms)).toEqual({});
    expect(said(NewRelease, { lateAccepted: true, note: '' })).toMatchObject({
      assessmentId: 'Choose an assessment.',
      classId: 'Choose a class.',
      dueAt: 'Say when it is due.',
    });
  });

  it.each([
    ['opensAt', 'soon', 'Say when it opens.'],
    ['closesAt', 'later', 'Say when it closes, or leave that open.'],
    ['sittingsAllowed', 21, 'At most 20 sittings, or any number.'],
    ['note', 'x'.repeat(301), 'A note has at most 300 characters.'],
  ])('say at %s that %s does not fit', (field, value, words) => {
    expect(said(ReleaseTerms, { ...terms, [field]: value })).toEqual({ [field]: words });
  });

  it.each([
    ['audience', 'everybody'],
    ['heardBy', 'the world'],
    ['hidden', 'yes'],
    ['studentIds', ['not an id']],
  ])('refuse a %s that is none', (field, value) => {
    expect(Object.keys(said(NewRelease, { ...whole, [field]: value })).join()).toContain(field);
  });

  it('may leave out times with null', () => {
    expect(said(ReleaseTerms, { ...terms, opensAt: null, closesAt: null })).toEqual({});
  });

  it('come in series of one date and more, each with its own times', () => {
    const date = { opensAt: AT, dueAt: AT, note: '' };
    expect(said(NewSeries, { ...whole, each: [date] })).toEqual({});
    expect(said(NewSeries, { ...whole, each: [] }).each).toBe('Choose at least one date.');
    expect(said(NewSeries, { ...whole, each: Array(61).fill(date) }).each).toContain('at most 60');
    expect(said(NewSeries, { ...whole, each: [{ ...date, dueAt: 'x' }] })).toEqual({
      'each.0.dueAt': 'Say when it is due.',
    });
  });

  it('are moved by whole days, a few at a time', () => {
    expect(said(MoveReleases, { releaseIds: [ID], days: -7 })).toEqual({});
    expect(Object.keys(said(MoveReleases, { releaseIds: [], days: 1.5 })).sort()).toEqual([
      'days',
      'releaseIds',
    ]);
  });

  it('are granted in parts: what is left out stays', () => {
    for (const grant of [{}, { excused: true }, { dueAt: null }, { dueAt: AT }, { another: true }])
      expect(said(NewException, grant)).toEqual({});
    expect(said(NewException, { dueAt: 'tomorrow' })).toEqual({ dueAt: 'Say until when.' });
    expect(Object.keys(said(NewException, { extraSittings: -1 }))).toEqual(['extraSittings']);
  });

  it('keep out of named days', () => {
    const days = { name: 'Carnival', firstOn: '2027-02-08', lastOn: '2027-02-12' };
    expect(said(NewHoliday, days)).toEqual({});
    expect(said(NewHoliday, { ...days, name: ' ', firstOn: '8 February' })).toEqual({
      name: 'Give these days a name.',
      firstOn: 'Choose the first day.',
    });
  });

  it('are drawn in lists from an outline, as long as the whole and without a word of it', () => {
    const content = blankContent('homework', {
      title: 'Along the quay',
      directions: 'A secret in the directions',
      items: [
        blankItem('a', 'homework', { promptText: 'A secret in the prompt, of some length.' }),
        blankItem('b', 'homework', { promptDurationMs: 4_200, modelText: 'A secret in the model answer' }),
        blankItem('c', 'homework', {
          promptText: 'Talk.',
          isConversation: true,
          turns: [
            { id: 't', recordingId: ID, fromMs: 0, toMs: 2_000, gapMs: 5_000, says: 'A secret in the turn' },
          ],
        }),
      ],
    });
    const outline = outlineOf(content);
    expect(stripOf(outline.items)).toEqual(stripOf(content.items));
    expect(JSON.stringify(outline)).not.toContain('secret');
    expect(outline.title).toBe('Along the quay');
  });
});

describe('classes', () => {
  it('add students by a name alone', () => {
    expect(said(NewStudent, { displayName: 'ليلى الحداد' })).toEqual({});
    expect(said(NewStudent, { displayName: 'Rui', signInName: '', email: '', password: '' })).toEqual({});
    expect(
      said(NewStudent, { displayName: ' ', signInName: 'with space', email: 'rui', password: 'short' }),
    ).toEqual({
      displayName: 'Type the student’s name.',
      signInName: 'Choose a sign-in name without spaces.',
      email: 'This is no mail address.',
      password: 'A password needs at least 12 characters.',
    });
  });

  it('know three kinds of members', () => {
    for (const role of ['student', 'teacher', 'coordinator'])
      expect(said(NewMember, { signInName: 'ana', role })).toEqual({});
    expect(Object.keys(said(NewMember, { signInName: 'ana', role: 'owner' }))).toEqual(['role']);
  });

  it('have groups with names', () => {
    expect(said(NewGroup, { name: 'Tenors', memberIds: [] })).toEqual({});
    expect(said(NewGroup, { name: '', memberIds: [] })).toEqual({ name: 'Give the group a name.' });
    expect(Object.keys(said(NewGroup, { name: 'Tenors', memberIds: ['x'] }))).toEqual(['memberIds']);
  });

  it.each([
    ['extraTime', 0.9, 'A factor on time is at least 1.'],
    ['extraTime', 4.1, 'A factor on time is at most 4.'],
    ['extraTime', 1.123, 'Say the time as a factor, for example 1.25.'],
    ['breakMs', 3_600_001, 'Breaks last at most an hour in all.'],
  ])('grant no arrangement with %s %d', (field, value, words) => {
    expect(said(SetArrangement, ORDINARY)).toEqual({});
    expect(said(SetArrangement, { ...ORDINARY, [field]: value })).toEqual({ [field]: words });
  });

  it('read lists as they are told', () => {
    const choices = {
      columns: [{ field: 'name' }, { field: null }],
      hasHeader: true,
      sameNames: 'add',
      subject: 'music',
    };
    expect(said(ImportChoices, choices)).toEqual({});
    expect(
      Object.keys(said(ImportChoices, { ...choices, sameNames: 'guess', subject: 'sport' })).sort(),
    ).toEqual(['sameNames', 'subject']);
  });

  it('make codes for people, printed or by mail', () => {
    expect(said(CodesFor, { personIds: [ID] })).toEqual({});
    expect(said(CodesFor, { personIds: [ID], byMail: true })).toEqual({});
    expect(said(LookAtCode, { code: '' })).toEqual({ code: 'Type the code.' });
    expect(said(FirstSignIn, { code: 'ABCD', password: 'short' })).toEqual({
      password: 'A password needs at least 12 characters.',
    });
  });
});

describe('guests', () => {
  it('come by links that keep what they leave for a while', () => {
    expect(said(NewLink, { keepDays: 30 })).toEqual({});
    expect(said(NewLink, { keepDays: 30, classCode: '', mostGuests: null, closesAt: null })).toEqual({});
    expect(said(NewLink, { keepDays: 30, mostGuests: 0, closesAt: 'x' })).toEqual({
      mostGuests: 'Let at least one guest in.',
      closesAt: 'Say when the link closes, or leave that open.',
    });
    expect(Object.keys(said(NewLink, { keepDays: 0 }))).toEqual(['keepDays']);
  });

  it.each(['Lena', 'さくら', 'O', 'ليلى', 'Ana 2'])('may be called %s', name => {
    expect(said(NewGuest, { name })).toEqual({});
  });

  it.each(['', '  ', '…', '👋'])('need a name: “%s” is none', name => {
    expect(said(NewGuest, { name }).name).toContain('Type your name');
  });

  it('return by an address, and are somebody', () => {
    expect(said(GuestReturn, { token: ID })).toEqual({});
    expect(Object.keys(said(GuestReturn, { token: 'guess' }))).toEqual(['token']);
    expect(said(MergeGuest, {})).toEqual({ into: 'Choose who this is.' });
  });
});

describe('directions in a second language', () => {
  const content = blankContent('homework', {
    otherDirections: [
      { language: 'pl', text: 'Odpowiedz.' },
      { language: 'uk', text: 'Відповідай.' },
    ],
  });

  it('are shown to those whose arrangement asks for them, and to nobody else', () => {
    expect(forStudents(content).otherDirections).toEqual([]);
    expect(forStudents(content, false, 'uk').otherDirections.map(d => d.text)).toEqual(['Відповідай.']);
    expect(forStudents(content, true, 'fr').otherDirections).toEqual([]);
  });
});
