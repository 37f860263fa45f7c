import { createHash } from 'node:crypto';
import { readdirSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import type { AssessmentSummary } from '@ecoute/contract/assessments';
import type { SharedAssessment } from '@ecoute/contract/departments';
import type { RecordingView } from '@ecoute/contract/recordings';
import type { TagList } from '@ecoute/contract/tags';
import type { ReleaseSummary } from '@ecoute/contract/releases';
import type { TodoEntry } from '@ecoute/contract/sittings';
import type { LeadView } from '@ecoute/contract/discussions';
import type { FeedbackEntry } from '@ecoute/contract/marking';
import { loadDemoWorld } from '../demo/load';
import * as world from '../demo/world';
import { row } from './platform/database';
import { TestEcoute, type Visitor } from './testing/ecoute';

describe('the demo world', () => {
  jest.setTimeout(480_000);
  const folder = join(__dirname, '../demo');
  let t: TestEcoute;
  beforeAll(async () => {
    // Copies and measures of seventy sounds are nothing that is asked for here.
    t = await TestEcoute.open({ withJobs: false });
    expect(await loadDemoWorld(t.ecoute.pool, t.ecoute.recordings, folder)).toBe(true);
  });
  afterAll(() => t.close());

  const signIn = async (name: string): Promise<Visitor> => {
    const visitor = t.visitor();
    const answer = await visitor.ask('POST', '/api/session', {
      signInName: `${name}@brackwater.example`,
      password: world.DEMO_PASSWORD,
    });
    expect(answer.status).toBe(200);
    return visitor;
  };

  it('ships at least sixty recordings of 5 to 60 s, no two alike, under 12 MB together', async () => {
    const files = readdirSync(join(folder, 'audio'));
    // What a teacher says in a discussion, or to a class, is no take.
    const { said, teacher } = world.discussion;
    const ofTeacher = ['welcome', ...said.filter(s => s.who === teacher).map(s => s.key)];
    const takes = files.filter(
      f => !/^(prompt-|message\.)/.test(f) && !ofTeacher.some(key => f === `talk-${key}.ogg`),
    );
    expect(takes.length).toBeGreaterThanOrEqual(60);
    expect(files.reduce((sum, f) => sum + statSync(join(folder, 'audio', f)).size, 0)).toBeLessThan(12e6);
    const sums = files.map(f =>
      createHash('sha256')
        .update(readFileSync(join(folder, 'audio', f)))
        .digest('hex'),
    );
    expect(new Set(sums).size).toBe(files.length);
    const lengths = await row<{ n: number; shortest: number; longest: number; odd: number }>(
      t.ecoute.pool,
      "SELECT COUNT(*) AS n, MIN(duration_ms) AS shortest, MAX(duration_ms) AS longest, SUM(state <> 'stored') AS odd FROM recordings WHERE purpose = 'take'",
    );
    // What is heard a second time, as the answer to a placement, is a recording of its own.
    const again = world.releases
      .filter(r => r.sounds)
      .reduce((sum, r) => sum + r.answers.length * Object.keys(r.sounds!).length, 0);
    expect(Number(lengths!.n)).toBe(takes.length + again);
    expect(Number(lengths!.odd)).toBe(0);
    expect(lengths!.shortest).toBeGreaterThanOrEqual(4_500);
    expect(lengths!.longest).toBeLessThanOrEqual(60_500);
  });

  it('has two classes, two teachers, twenty students and more, and assessments in different states', async () => {
    const everybody = new Set([...world.languageStudents, ...world.musicStudents].map(s => s.key));
    expect(everybody.size).toBeGreaterThanOrEqual(20);
    const ines = (await (await signIn('ines')).ask<ReleaseSummary[]>('GET', '/api/releases')).body;
    const tobias = (await (await signIn('tobias')).ask<ReleaseSummary[]>('GET', '/api/releases')).body;
    expect(new Set([...ines, ...tobias].map(r => r.className)).size).toBe(2);
    const sum = (of: keyof ReleaseSummary['counts']) =>
      [...ines, ...tobias].reduce((n, r) => n + r.counts[of], 0);
    for (const state of [
      'notOpened',
      'underWay',
      'handedIn',
      'marked',
      'feedbackGiven',
      'late',
      'missing',
    ] as const)
      expect([state, sum(state) > 0]).toEqual([state, true]);
    // No release may lie in the future of its own answers.
    for (const r of [...ines, ...tobias]) {
      const { students, notOpened } = r.counts;
      if (notOpened < students) expect(r.opensAt < new Date().toISOString()).toBe(true);
    }
    // And some lie ahead.
    expect(tobias.filter(r => r.opensAt > new Date().toISOString())).toHaveLength(3);
  });

  it('gives the student of the README something to do, and feedback', async () => {
    const amara = await signIn('amara');
    const todo = (await amara.ask<TodoEntry[]>('GET', '/api/todo')).body;
    expect(todo.some(e => e.handedInAt === null && e.openness === 'open')).toBe(true);
    const [returned] = (await amara.ask<FeedbackEntry[]>('GET', '/api/feedback')).body;
    expect(returned!.total!.given).toBeGreaterThan(0);
    expect(returned!.total!.given).toBeLessThanOrEqual(returned!.total!.maximum);
  });

  it('has a discussion that has gone on for some days, with something new in it for everybody', async () => {
    const ines = await signIn('ines');
    const releases = (await ines.ask<ReleaseSummary[]>('GET', '/api/releases')).body;
    const { id } = releases.find(r => r.title === world.discussion.title)!;
    const { contributions, people } = (await ines.ask<LeadView>('GET', `/api/releases/${id}/lead`)).body;
    expect(contributions.map(c => c.state)).toEqual(world.discussion.said.map(() => 'here'));
    expect(contributions.filter(c => !c.heard)).toHaveLength(3);
    const moment = contributions.find(c => c.fromMs !== null)!;
    const parent = contributions.find(c => c.id === moment.parentId)!;
    expect(moment.toMs).toBe(parent.durationMs);
    expect(people.find(p => p.name.startsWith('Amara'))!.given).toMatchObject({
      contributions: 1,
      replies: 1,
    });
    const todo = (await (await signIn('hamish')).ask<TodoEntry[]>('GET', '/api/todo')).body;
    expect(todo.find(e => e.releaseId === id)!.discussion).toEqual({ unheard: 7 });
  });

  it('does not touch an Ecoute where somebody is already', async () => {
    expect(await loadDemoWorld(t.ecoute.pool, t.ecoute.recordings, folder)).toBe(false);
  });

  it('shares a shelf, and shows a passage and notation', async () => {
    const tobias = await signIn('tobias');
    const shelf = (await tobias.ask<SharedAssessment[]>('GET', '/api/shelf')).body;
    expect(shelf).toMatchObject([{ isTemplate: true, departmentName: world.department.name }]);
    const own = (await tobias.ask<AssessmentSummary[]>('GET', '/api/assessments')).body;
    const scales = own.find(a => a.content.title === 'Two scales and a tune')!;
    const { stimuli } = scales.content.items.find(i => i.stimuli[0]?.kind === 'notation')!;
    const { body } = await tobias.ask<RecordingView>(
      'GET',
      `/api/recordings/${stimuli[0]!.recordingId}/details`,
    );
    expect(body).toMatchObject({ state: 'stored', medium: 'notation' });
    expect(body.details!.score!.parts).toEqual([{ id: 'P1', name: 'Treble recorder', firstMidi: 65 }]);
    const lists = (await tobias.ask<TagList[]>('GET', '/api/tag-lists')).body;
    expect(lists[0]!.tags).toHaveLength(world.statements.length);
  });
});
