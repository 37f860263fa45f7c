/** Puts the demo world into an empty Ecoute: rows by the stores, sounds by the service that looks at everybody's. */
import { randomUUID } from 'node:crypto';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { toHundredths } from '@ecoute/core/scoring/points';
import { ORDINARY } from '@ecoute/core/timing/arrangements';
import type { AssessmentContent } from '@ecoute/contract/assessments';
import { takeLengthMs } from '@ecoute/core/timing/conversation';
import { blankContent, blankItem, blankScoring, blankStimulus } from '@ecoute/contract/blank';
import type { Stimulus } from '@ecoute/contract/stimuli';
import type { Me } from '@ecoute/contract/people';
import type { Receipt } from '@ecoute/contract/sittings';
import { freezeVersion, insertAssessment } from '../server/capabilities/assessments/store';
import {
  addMember as addToDepartment,
  insertDepartment,
  replaceShares,
  setTemplate,
} from '../server/capabilities/departments/store';
import { insertComment, insertTopic } from '../server/capabilities/commentBank/store';
import { insertList, insertTags } from '../server/capabilities/tags/store';
import {
  addMember,
  addToGroup,
  insertClass,
  insertGroup,
  setArrangement,
} from '../server/capabilities/classes/store';
import { giveLevel, insertMark } from '../server/capabilities/marks/store';
import { putMarkup } from '../server/capabilities/markups/store';
import { insertNote } from '../server/capabilities/notes/store';
import { insertContribution, keepHeard, placeDraft, putIn } from '../server/capabilities/discussions/store';
import { settleSitting } from '../server/capabilities/discussions/standing';
import { addressesOf, insertAddresses } from '../server/capabilities/families/store';
import { hashPassword } from '../server/capabilities/people/passwords';
import { anybody, insertPerson } from '../server/capabilities/people/store';
import { insertPortfolio, putSuggestion, replaceReaders } from '../server/capabilities/portfolios/store';
import type { Recordings } from '../server/capabilities/recordings/service';
import { insertHoliday } from '../server/capabilities/holidays/store';
import { insertRelease } from '../server/capabilities/releases/store';
import { addAudience, addParticipants } from '../server/capabilities/releases/participants.store';
import { refreshFacts } from '../server/capabilities/sittings/facts';
import { ensureSitting } from '../server/capabilities/sittings/store';
import { insertTake, takesOfSittings } from '../server/capabilities/sittings/answers.store';
import {
  insertMessage,
  insertRecipients,
  markHeard,
  ownRecipient,
  studentsOf,
} from '../server/capabilities/spokenMessages/store';
import { transaction, type Pool } from '../server/platform/database';
import { placeContribution, placeMessage, placeRecording, placeRelease, placeSitting } from './store';
import { handsOf, rhythmOf, scoreOf } from './score';
import * as world from './world';

const HOUR = 3_600_000;

/** Who to sign in as, for the start message and the README. */
export function demoSignIns(): string {
  const line = (p: world.DemoPerson, what: string) => `  ${p.signIn.padEnd(32)}${what}`;
  return [
    `Demo sign-ins, all with the password ${world.DEMO_PASSWORD}`,
    line(world.teachers[0]!, 'teacher, Portuguese A2'),
    line(world.teachers[1]!, 'teacher, Recorder consort'),
    line(world.term.coordinator, 'coordinator of both classes, administrator'),
    line(world.languageStudents[0]!, 'student with something to do, and with feedback'),
    line(world.musicStudents[0]!, 'student of the recorder'),
  ].join('\n');
}

/** @returns false, and touches nothing, when somebody is here already */
export async function loadDemoWorld(pool: Pool, recordings: Recordings, folder: string): Promise<boolean> {
  if (await anybody(pool)) return false;
  const loader = new Loader(pool, recordings, join(folder, 'audio'));
  await loader.load();
  return true;
}

class Loader {
  private readonly ids = new Map<string, string>();
  private readonly now = Date.now();
  /** By student, assessment and item. */
  private readonly takes = new Map<string, string>();

  constructor(
    private readonly pool: Pool,
    private readonly recordings: Recordings,
    private readonly audio: string,
  ) {}

  private id(key: string): string {
    const known = this.ids.get(key) ?? randomUUID();
    this.ids.set(key, known);
    return known;
  }

  async load(): Promise<void> {
    await this.people();
    for (const assessment of world.assessments) await this.assessment(assessment);
    for (const release of world.releases) await this.release(release);
    await this.oralExam();
    await this.staffRoom();
    await this.commentBank();
    await this.term();
    await this.portfolio();
    await this.discussion();
    await this.message();
  }

  /** Put together by a student of what came back to them. */
  private async portfolio(): Promise<void> {
    const { student, title, words, pieces, shownTo, suggested } = world.portfolio;
    const takeOf = ({ assessment, item }: { assessment: string; item: string }) =>
      this.takes.get(`${student} ${assessment} ${item}`)!;
    const id = this.id(`portfolio ${title}`);
    await insertPortfolio(this.pool, {
      id,
      ownerId: this.id(student),
      content: {
        title,
        words,
        pieces: pieces.map(p => ({
          id: randomUUID(),
          takeId: takeOf(p),
          title: p.title,
          words: p.words,
          pictureId: null,
          pictureWords: '',
          voiceId: null,
        })),
      },
    });
    await replaceReaders(this.pool, id, [this.id(shownTo)]);
    await putSuggestion(this.pool, {
      id: randomUUID(),
      takeId: takeOf(suggested),
      studentId: this.id(student),
      teacherId: this.id(shownTo),
      words: suggested.words,
    });
  }

  /** People who have been talking with each other for some days. */
  private async discussion(): Promise<void> {
    const { pool } = this;
    const talk = world.discussion;
    const [assessmentId, releaseId] = [this.id('assessment discussion'), this.id('release discussion')];
    const welcome = randomUUID();
    const by = { owner: talk.teacher, purpose: 'prompt' as const, assessmentId };
    const { durationMs } = await this.sound(welcome, 'talk-welcome.ogg', { ...by, limitMs: 60_000 });
    const [item, page] = [this.id('item discussion'), this.id('item discussion page')];
    const content = blankContent('discussion', {
      title: talk.title,
      directions: talk.expected,
      directionsVoice: { recordingId: welcome, durationMs: durationMs ?? 0, isVideo: false },
      items: [
        blankItem(item, 'discussion', { promptText: talk.question, points: 5 }),
        blankItem(page, 'discussion', { answerBy: 'nothing', promptText: talk.startingPoint }),
      ],
    });
    await insertAssessment(pool, { id: assessmentId, ownerId: this.id(talk.teacher), content });
    const versionId = await freezeVersion(pool, { id: randomUUID(), assessmentId, revision: 1, content });
    const due = new Date(this.now + talk.dueInDays * 24 * HOUR);
    due.setUTCHours(18, 0, 0, 0);
    const classId = this.id(talk.class);
    await insertRelease(pool, {
      id: releaseId,
      versionId,
      assessmentId,
      classId,
      opensAt: new Date(this.now - 60 * HOUR),
      dueAt: due,
      lateAccepted: true,
      note: talk.note,
      releasedBy: this.id(talk.teacher),
    });
    await addAudience(pool, { id: releaseId, classId, audience: 'class', groupId: null });
    await placeRelease(pool, releaseId, new Date(this.now - 60 * HOUR), due);
    const lengths = new Map<string, number>();
    for (const [i, said] of talk.said.entries()) {
      const id = this.id(`said ${said.key}`);
      const at = new Date(this.now - said.hoursAgo * HOUR);
      const isTeacher = said.who === talk.teacher;
      const sittingId = isTeacher
        ? null
        : await ensureSitting(pool, { id: randomUUID(), releaseId, studentId: this.id(said.who) });
      const sound = await this.sound(id, `talk-${said.key}.ogg`, {
        owner: said.who,
        purpose: isTeacher ? 'reply' : 'take',
        assessmentId: null,
        limitMs: 120_000,
      });
      lengths.set(said.key, sound.durationMs ?? 0);
      if (sittingId) await insertTake(pool, { id, sittingId, itemId: item, number: i + 1, beganAt: at });
      await insertContribution(pool, {
        id,
        releaseId,
        circle: 0,
        sittingId,
        itemId: sittingId && item,
        authorId: this.id(said.who),
        voiceId: id,
      });
      const parent = talk.said.find(s => s.key === said.to);
      const [from, to] = said.moment?.map(share => Math.round(share * lengths.get(said.to!)!)) ?? [
        null,
        null,
      ];
      await placeDraft(pool, id, {
        topicId: (parent ?? said).atStartingPoint || parent?.to === 'bram-landing' ? page : null,
        parentId: parent ? this.id(`said ${parent.key}`) : null,
        fromMs: from ?? null,
        toMs: to ?? null,
        correctsId: null,
        circle: 0,
      });
      await putIn(pool, id, { title: said.title ?? '', words: said.words ?? '', isLetIn: true });
      await placeContribution(pool, id, at);
      await placeRecording(pool, id, at);
      if (said.heardByTeacher)
        await keepHeard(pool, { releaseId, personId: this.id(talk.teacher), ids: [id] });
      if (sittingId) await transaction(pool, db => settleSitting(db, sittingId));
    }
  }

  /** What a teacher said to a class and to families: its sound comes last, and with it it goes out. */
  private async message(): Promise<void> {
    const { pool } = this;
    const { teacher, title, says, families, playedBy, hoursAgo, ...of } = world.message;
    const [id, voiceId, classId] = [this.id('message'), this.id('voice of message'), this.id(of.class)];
    await insertAddresses(
      pool,
      families.map(f => ({ ...f, studentId: this.id(f.student) })),
      this.id(teacher),
    );
    const authorId = this.id(teacher);
    await insertMessage(pool, {
      id,
      classId,
      groupId: null,
      isPicked: false,
      authorId,
      voiceId,
      title,
      words: says,
    });
    const students = await studentsOf(pool, classId, null);
    const own = students.map(studentId => ({ id: randomUUID(), studentId, familyId: null }));
    const home = (await addressesOf(pool, students)).map(a => ({
      id: randomUUID(),
      studentId: a.studentId,
      familyId: a.id,
    }));
    await insertRecipients(pool, id, [...own, ...home]);
    await this.sound(voiceId, 'message.ogg', {
      owner: teacher,
      purpose: 'message',
      assessmentId: null,
      limitMs: 60_000,
    });
    const at = new Date(this.now - hoursAgo * HOUR);
    await placeMessage(pool, id, at);
    await placeRecording(pool, voiceId, at);
    for (const key of playedBy) {
      const recipient = await ownRecipient(pool, id, this.id(key));
      if (recipient) await markHeard(pool, recipient);
    }
  }

  /** What teachers say again and again. */
  private async commentBank(): Promise<void> {
    for (const { owner, name, praise, comments } of world.bank) {
      const topicId = this.id(`topic ${owner} ${name}`);
      const by = this.id(owner);
      await insertTopic(this.pool, { id: topicId, ownerId: by, departmentId: null, name, praise });
      for (const [position, { words, link }] of comments.entries())
        await insertComment(this.pool, {
          id: randomUUID(),
          topicId,
          words,
          link,
          voiceId: null,
          position,
          by,
        });
    }
  }

  /** Groups, arrangements, a coordinator, days without school, and what opens in the weeks to come. */
  private async term(): Promise<void> {
    const { pool } = this;
    const { coordinator, groups, arrangements, holiday, weekly, school: term } = world.term;
    await insertPerson(pool, {
      id: this.id(coordinator.key),
      signInName: coordinator.signIn,
      displayName: coordinator.name,
      role: 'teacher',
      passwordHash: await hashPassword(world.DEMO_PASSWORD),
      // Looks after this Ecoute, too.
      isAdmin: true,
    });
    for (const key of ['portuguese', 'recorder'])
      await addMember(pool, {
        classId: this.id(key),
        personId: this.id(coordinator.key),
        role: 'coordinator',
      });
    for (const group of groups) {
      const id = this.id(`group ${group.name}`);
      await insertGroup(pool, { id, classId: this.id(group.class), name: group.name });
      await addToGroup(
        pool,
        id,
        this.id(group.class),
        group.students.map(s => this.id(s)),
      );
    }
    for (const { student, ...arrangement } of arrangements)
      await setArrangement(pool, {
        personId: this.id(student),
        arrangement: { ...ORDINARY, ...arrangement },
        by: this.id('ines'),
      });
    const DAY = 24 * HOUR;
    const day = (at: number) => new Date(at).toISOString().slice(0, 10);
    await insertHoliday(pool, {
      id: randomUUID(),
      kind: 'term',
      name: term.name,
      firstOn: day(this.now - term.daysGone * DAY),
      lastOn: day(this.now + term.daysLeft * DAY),
      madeBy: this.id('ines'),
    });
    await insertHoliday(pool, {
      id: randomUUID(),
      name: holiday.name,
      firstOn: day(this.now + 10 * DAY),
      lastOn: day(this.now + (9 + holiday.days) * DAY),
      madeBy: this.id('ines'),
    });
    const planned = world.assessments.find(a => a.key === weekly.assessment)!;
    const versionId = await freezeVersion(pool, {
      id: randomUUID(),
      assessmentId: this.id(`assessment ${planned.key}`),
      revision: 1,
      content: this.contents.get(planned.key)!,
    });
    const seriesId = randomUUID();
    for (const [week, note] of weekly.notes.entries()) {
      const id = randomUUID();
      // The days without school are left out.
      const opensAt = new Date(this.now + ((week === 0 ? 0 : week + 1) * 7 + 3) * DAY);
      opensAt.setUTCHours(8, 0, 0, 0);
      const dueAt = new Date(opensAt.getTime() + 6 * DAY + 10 * HOUR);
      const classId = this.id(weekly.class);
      await insertRelease(pool, {
        id,
        versionId,
        seriesId,
        classId,
        opensAt,
        dueAt,
        note,
        assessmentId: this.id(`assessment ${planned.key}`),
        lateAccepted: true,
        releasedBy: this.id(planned.teacher),
      });
      await addAudience(pool, { id, classId, audience: 'class', groupId: null });
    }
  }

  /** A draft that shows what setting can do: exam conditions, material, a conversation, a rubric. */
  private async oralExam(): Promise<void> {
    const { title, directions, material, scene, closingWords, turns, rubric } = world.oralExam;
    const assessmentId = this.id('assessment oral exam');
    const made = await Promise.all(
      turns.map(async ({ sound, says, gapMs }) => {
        const recordingId = this.id(`turn ${sound}`);
        const { durationMs } = await this.sound(recordingId, `${sound}.ogg`, {
          owner: 'ines',
          purpose: 'prompt',
          assessmentId,
          limitMs: 60_000,
        });
        return {
          id: this.id(`turn id ${sound}`),
          recordingId,
          fromMs: 0,
          toMs: durationMs ?? 0,
          gapMs,
          says,
        };
      }),
    );
    const section = { id: this.id('section stall'), title: scene.section, shuffled: false };
    const criteria = rubric.criteria.map(c => ({ ...c, id: this.id(`criterion ${c.name}`) }));
    const content = blankContent('exam', {
      title,
      directions,
      closingWords,
      sittingLimitMs: 15 * 60_000,
      sections: [section],
      items: [
        blankItem(this.id('item exam material'), 'exam', { answerBy: 'nothing', promptText: material }),
        blankItem(this.id('item exam talk'), 'exam', {
          sectionId: section.id,
          promptText: scene.promptText,
          prepareMs: 60_000,
          isConversation: true,
          turns: made,
          answerLimitMs: takeLengthMs(made),
          hintText: scene.hint,
        }),
      ],
      scoring: { ...blankScoring('exam'), kind: 'rubric', rubric: { levels: rubric.levels, criteria } },
    });
    await insertAssessment(this.pool, { id: assessmentId, ownerId: this.id('ines'), content });
  }

  /** Both teachers share a shelf: a template of one, an assessment of the other, a list of statements. */
  private async staffRoom(): Promise<void> {
    const { pool } = this;
    const { name, list } = world.department;
    const departmentId = this.id('department');
    await insertDepartment(pool, { id: departmentId, name });
    for (const { key } of world.teachers) await addToDepartment(pool, departmentId, this.id(key));
    await insertList(pool, { id: this.id('statements'), ownerId: this.id('ines'), name: list });
    await insertTags(
      pool,
      world.statements.map((s, place) => ({ ...s, listId: this.id('statements'), place })),
    );
    for (const key of ['assessment oral exam', 'assessment scales'])
      await replaceShares(pool, this.id(key), [{ departmentId, edits: false }]);
    await setTemplate(pool, this.id('assessment oral exam'), true);
  }

  private async people(): Promise<void> {
    const passwordHash = await hashPassword(world.DEMO_PASSWORD);
    const everybody = new Map(
      [...world.languageStudents, ...world.musicStudents].map(p => [
        p.key,
        { ...p, role: 'student' as const },
      ]),
    );
    for (const person of [
      ...world.teachers.map(t => ({ ...t, role: 'teacher' as const })),
      ...everybody.values(),
    ])
      await insertPerson(this.pool, {
        id: this.id(person.key),
        signInName: person.signIn,
        displayName: person.name,
        role: person.role,
        passwordHash,
      });
    const classes = [
      {
        key: 'portuguese',
        name: 'Portuguese A2, Tuesdays',
        subject: 'language',
        teacher: 'ines',
        students: world.languageStudents,
      },
      {
        key: 'recorder',
        name: 'Recorder consort, first year',
        subject: 'music',
        teacher: 'tobias',
        students: world.musicStudents,
      },
    ] as const;
    for (const { key, name, subject, teacher, students } of classes) {
      await insertClass(this.pool, { id: this.id(key), name, subject });
      await addMember(this.pool, { classId: this.id(key), personId: this.id(teacher), role: 'teacher' });
      for (const s of students)
        await addMember(this.pool, { classId: this.id(key), personId: this.id(s.key), role: 'student' });
    }
  }

  /** Brings one sound in; its length. */
  private async sound(
    id: string,
    name: string,
    sound: {
      owner: string;
      purpose: 'prompt' | 'take' | 'reply' | 'message';
      assessmentId: string | null;
      limitMs: number;
    },
  ) {
    return this.recordings.bringIn(join(this.audio, name), {
      id,
      ownerId: this.id(sound.owner),
      purpose: sound.purpose,
      assessmentId: sound.assessmentId,
      announcedType: 'audio/ogg',
      fileName: null,
      limitMs: sound.limitMs,
    });
  }

  private async assessment(assessment: world.DemoAssessment): Promise<void> {
    const assessmentId = this.id(`assessment ${assessment.key}`);
    const items = await Promise.all(
      assessment.items.map(async item => {
        const spoken = item.promptVoice ? this.id(`prompt ${assessment.key} ${item.key}`) : null;
        const sound = spoken
          ? await this.sound(spoken, `prompt-${assessment.key}-${item.key}.ogg`, {
              owner: assessment.teacher,
              purpose: 'prompt',
              assessmentId,
              limitMs: 60_000,
            })
          : null;
        return blankItem(
          this.id(`item ${assessment.key} ${item.key}`),
          assessment.startingPoint ?? 'homework',
          {
            stimuli: await this.stimuli(assessmentId, assessment, item),
            tags: world.statements.filter(s => item.tags?.includes(s.code)),
            startsBy: 'itself',
            promptText: item.promptText,
            promptRecordingId: spoken,
            promptDurationMs: sound?.durationMs ?? null,
            // What is said after the prompt is known word by word.
            ...(item.repeats && { modelText: item.promptVoice, modelLanguage: 'pt' }),
            prepareMs: item.prepareMs,
            answerLimitMs: item.answerLimitMs,
            takesAllowed: item.takesAllowed,
            points: item.points,
          },
        );
      }),
    );
    const { title, directions } = assessment;
    const content = blankContent(assessment.startingPoint ?? 'homework', {
      title,
      directions,
      items,
      evidenceOpens: 'afterReturn',
    });
    this.contents.set(assessment.key, content);
    await insertAssessment(this.pool, { id: assessmentId, ownerId: this.id(assessment.teacher), content });
  }

  /** What is looked at with an item: its passage, or its tune as notation. */
  private async stimuli(
    assessmentId: string,
    assessment: world.DemoAssessment,
    { key, passage, score, ...item }: world.DemoItem,
  ): Promise<Stimulus[]> {
    const id = this.id(`stimulus ${assessment.key} ${key}`);
    if (passage) return [blankStimulus(id, 'passage', passage)];
    const xml = score && scoreFor(score, item);
    if (!xml) return [];
    const recordingId = this.id(`score ${assessment.key} ${key}`);
    const folder = await mkdtemp(join(tmpdir(), 'ecoute-demo-'));
    try {
      const path = join(folder, 'score.musicxml');
      await writeFile(path, xml);
      await this.recordings.bringIn(path, {
        id: recordingId,
        ownerId: this.id(assessment.teacher),
        purpose: 'prompt',
        wanted: 'show',
        assessmentId,
        announcedType: 'application/vnd.recordare.musicxml+xml',
        fileName: `${score}.musicxml`,
        limitMs: 60_000,
      });
    } finally {
      await rm(folder, { recursive: true, force: true });
    }
    return [blankStimulus(id, 'notation', { recordingId, words: score })];
  }

  /** A running record on a passage that was read aloud, where the world has one. */
  private async reading(
    assessment: world.DemoAssessment,
    student: string,
    sittingId: string,
    authorId: string,
  ): Promise<void> {
    if (world.reading.assessment !== assessment.key || world.reading.student !== student) return;
    const { item, fromMs, toMs, marks, refused } = world.reading;
    await putMarkup(this.pool, {
      id: randomUUID(),
      sittingId,
      itemId: this.id(`item ${assessment.key} ${item}`),
      targetId: this.id(`stimulus ${assessment.key} ${item}`),
      kind: 'record',
      revision: 1,
      content: JSON.stringify({ lastWord: null, fromMs, toMs, marks, refused }),
      authorId,
    });
  }

  private readonly contents = new Map<string, AssessmentContent>();

  private async release(release: world.DemoRelease): Promise<void> {
    const { pool } = this;
    const assessment = world.assessments.find(a => a.key === release.assessment)!;
    const content = this.contents.get(assessment.key)!;
    const id = this.id(`release ${assessment.key} ${release.dueInDays}`);
    // Due at six in the evening, by UTC, so that the lists look like a school's.
    const due = new Date(this.now + release.dueInDays * 24 * HOUR);
    due.setUTCHours(18, 0, 0, 0);
    const opens = new Date(Math.min(due.getTime() - 7 * 24 * HOUR, this.now - 24 * HOUR));
    const versionId = await freezeVersion(pool, {
      id: randomUUID(),
      assessmentId: this.id(`assessment ${assessment.key}`),
      revision: 1,
      content,
    });
    await insertRelease(pool, {
      id,
      versionId,
      assessmentId: this.id(`assessment ${assessment.key}`),
      classId: this.id(release.class),
      opensAt: opens,
      dueAt: due,
      lateAccepted: release.lateAccepted,
      note: release.note,
      audience: release.isForWhoAnswered ? 'students' : 'class',
      releasedBy: this.id(assessment.teacher),
    });
    const classId = this.id(release.class);
    if (release.isForWhoAnswered)
      await addParticipants(
        pool,
        id,
        classId,
        release.answers.map(a => this.id(a.student)),
      );
    else await addAudience(pool, { id, classId, audience: 'class', groupId: null });
    await placeRelease(pool, id, opens, due);
    let remark = 0;
    for (const answer of release.answers) {
      const handedInAt = new Date(Math.min(due.getTime() - answer.hoursBefore * HOUR, this.now - HOUR / 2));
      const items = assessment.items.filter(i => !answer.skips?.includes(i.key));
      const sittingId = await this.answers(assessment, id, answer.student, items, handedInAt, release.sounds);
      const takes = await takesOfSittings(pool, [sittingId]);
      const receipt: Receipt = {
        sittingId,
        handedInAt: handedInAt.toISOString(),
        late: handedInAt > due,
        byItself: false,
        lines: content.items.map(item => {
          const take = takes.find(t => t.itemId === item.id);
          const { sizeBytes = null, sha256 = null } = take?.recording ?? {};
          return {
            itemId: item.id,
            takeId: take?.id ?? null,
            written: false,
            passed: false,
            studied: false,
            medium: take ? ('sound' as const) : null,
            fileName: null,
            durationMs: take?.durationMs ?? null,
            sizeBytes,
            sha256,
          };
        }),
      };
      const author: Me = { id: this.id(assessment.teacher), displayName: '', role: 'teacher' };
      await this.reading(assessment, answer.student, sittingId, author.id);
      const level = release.levels?.[answer.student];
      if (level !== undefined)
        await giveLevel(pool, { id: randomUUID(), sittingId, level, reason: '', authorId: author.id });
      if (answer.marked)
        for (const [i, item] of items.entries()) {
          const maximum = toHundredths(item.points);
          const itemId = this.id(`item ${assessment.key} ${item.key}`);
          const share = 0.6 + ((remark * 7 + i * 3) % 9) / 20;
          const said = assessment.said ?? world.comments[assessment.teacher];
          await insertMark(pool, {
            id: randomUUID(),
            sittingId,
            itemId,
            revision: 1,
            pointsHundredths:
              level === undefined ? Math.min(maximum, Math.round((maximum * share) / 50) * 50) : null,
            choices: level === undefined ? null : JSON.stringify([{ criterionId: itemId, level }]),
            comment: said[remark++ % said.length]!,
            finishedAt: new Date(
              Math.min(Math.max(due.getTime(), handedInAt.getTime()) + 20 * HOUR, this.now),
            ),
            authorId: author.id,
          });
          const take = takes.find(t => t.itemId === itemId);
          if (take?.durationMs && remark % 2 === 1 && !assessment.said)
            for (const { from, to, words } of world.pinned[assessment.teacher])
              await insertNote(pool, {
                id: randomUUID(),
                revision: 1,
                takeId: take.id,
                fromMs: Math.round(from * take.durationMs),
                toMs: to === null ? null : Math.round(to * take.durationMs),
                words,
                voiceId: null,
                authorId: author.id,
              });
        }
      await placeSitting(pool, sittingId, {
        beganAt: new Date(handedInAt.getTime() - HOUR / 4),
        handedInAt,
        receipt: JSON.stringify(receipt),
        feedbackAt: answer.returned
          ? new Date(Math.max(due.getTime(), handedInAt.getTime()) + 26 * HOUR)
          : null,
        feedbackBy: answer.returned ? author.id : null,
      });
      await refreshFacts(pool, [sittingId]);
    }
    for (const student of release.underWay) {
      const first = assessment.items.slice(0, 1);
      await refreshFacts(pool, [
        await this.answers(assessment, id, student, first, new Date(this.now - HOUR)),
      ]);
    }
  }

  /** A sitting with one take for each of the items. */
  private async answers(
    assessment: world.DemoAssessment,
    releaseId: string,
    student: string,
    items: world.DemoItem[],
    at: Date,
    sounds: Record<string, string> = {},
  ): Promise<string> {
    const sittingId = await ensureSitting(this.pool, {
      id: randomUUID(),
      releaseId,
      studentId: this.id(student),
    });
    await Promise.all(
      items.map(async (item, i) => {
        const take = randomUUID();
        this.takes.set(`${student} ${assessment.key} ${item.key}`, take);
        const beganAt = new Date(at.getTime() - (items.length - i) * 120_000);
        const sound = sounds[item.key] ?? `${assessment.key}-${item.key}`;
        await this.sound(take, `${sound}-${student}.ogg`, {
          owner: student,
          purpose: 'take',
          assessmentId: null,
          limitMs: item.answerLimitMs,
        });
        await insertTake(this.pool, {
          id: take,
          sittingId,
          itemId: this.id(`item ${assessment.key} ${item.key}`),
          number: 1,
          beganAt,
        });
        await placeRecording(this.pool, take, beganAt);
      }),
    );
    return sittingId;
  }
}

/** As MusicXML; null for an item without notes. */
function scoreFor(title: string, item: Pick<world.DemoItem, 'tune' | 'hands' | 'rhythm'>): string | null {
  if (item.tune) return scoreOf(title, 'Treble recorder', item.tune.notes);
  if (item.hands) return handsOf(title, 'Keyboard', item.hands);
  return item.rhythm ? rhythmOf(title, 'Hands', item.rhythm.lengths) : null;
}
