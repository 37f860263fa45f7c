import type { Request } from 'express';
import type { Me } from '@ecoute/contract/people';
import type { Queryable } from '../database';
import { signedIn } from './signedIn';
import { notFound, Trouble } from '../trouble';
import * as relations from './store';

/** Who may use a route. The name is what the test that walks all routes reads. */
export interface Policy {
  readonly name: string;
  /** @throws Trouble when the person may not */
  check(req: Request): Promise<void>;
}

type Relation = (db: Queryable, personId: string, id: string) => Promise<boolean>;

/** The policies, bound to a database. Whoever is outside a relation gets "not found", never "forbidden". */
export function policies(db: Queryable) {
  const related = (name: string, param: string, role: Me['role'] | null, relation: Relation): Policy => ({
    name: `${name}(:${param})`,
    async check(req) {
      const me = signedIn(req);
      if (role !== null && me.role !== role) throw notFound();
      if (!(await relation(db, me.id, String(req.params[param])))) throw notFound();
    },
  });
  return {
    /** No sign-in needed. */
    anyone: (): Policy => ({ name: 'anyone', check: async () => undefined }),
    someone: (): Policy => ({ name: 'someone', check: async req => void signedIn(req) }),
    teacher: (): Policy => ({
      name: 'teacher',
      async check(req) {
        if (signedIn(req).role !== 'teacher')
          throw new Trouble('notAllowed', 'This page is for teachers. Go back to your own first page.');
      },
    }),
    student: (): Policy => ({
      name: 'student',
      async check(req) {
        if (signedIn(req).role !== 'student')
          throw new Trouble('notAllowed', 'This page is for students. Go back to your own first page.');
      },
    }),
    ownerOfAssessment: (param = 'assessmentId') =>
      related('ownerOfAssessment', param, 'teacher', relations.ownsAssessment),
    readerOfAssessment: (param = 'assessmentId') =>
      related('readerOfAssessment', param, 'teacher', relations.readsAssessment),
    editorOfAssessment: (param = 'assessmentId') =>
      related('editorOfAssessment', param, 'teacher', relations.editsAssessment),
    ownerOfTagList: (param = 'tagListId') =>
      related('ownerOfTagList', param, 'teacher', relations.ownsTagList),
    memberOf: (param = 'departmentId') => related('memberOf', param, 'teacher', relations.memberOf),
    ownerOfImport: (param = 'importId') => related('ownerOfImport', param, 'teacher', relations.ownsImport),
    managerOfClass: (param = 'classId') =>
      related('managerOfClass', param, 'teacher', relations.managesClass),
    teacherOfClass: (param = 'classId') =>
      related('teacherOfClass', param, 'teacher', relations.teachesClass),
    managerOfRelease: (param = 'releaseId') =>
      related('managerOfRelease', param, 'teacher', relations.managesRelease),
    teacherOfRelease: (param = 'releaseId') =>
      related('teacherOfRelease', param, 'teacher', relations.teachesRelease),
    studentOfRelease: (param = 'releaseId') =>
      related('studentOfRelease', param, 'student', relations.studiesRelease),
    teacherOfSitting: (param = 'sittingId') =>
      related('teacherOfSitting', param, 'teacher', relations.teachesSitting),
    studentOfSitting: (param = 'sittingId') => related('studentOfSitting', param, 'student', relations.satBy),
    ownerOfRecording: (param = 'recordingId') =>
      related('ownerOfRecording', param, null, relations.ownsRecording),
    /** A teacher who may hear a sound, and so may take an excerpt of it. */
    teacherWhoHears: (param = 'recordingId') =>
      related('teacherWhoHears', param, 'teacher', relations.mayHear),
    listenerOf: (param = 'recordingId') => related('listenerOf', param, null, relations.mayHear),
  };
}

export type Policies = ReturnType<typeof policies>;
