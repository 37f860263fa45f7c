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

/** The item that this browser continues as somebody's phone; null for all other browsers. */
export function handedTo(req: Request): string | null {
  return req.session?.handoverId ?? null;
}

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
  /** What a person may, a phone that continues an item may for that item alone. */
  const orPhone = (policy: Policy, param: string, relation: Relation): Policy => ({
    name: `${policy.name}|phone`,
    async check(req) {
      const handover = handedTo(req);
      if (handover && (await relation(db, handover, String(req.params[param])))) return;
      await policy.check(req);
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
    editorOfTopic: (param = 'topicId') => related('editorOfTopic', param, 'teacher', relations.editsTopic),
    memberOf: (param = 'departmentId') => related('memberOf', param, 'teacher', relations.memberOf),
    ownerOfImport: (param = 'importId') => related('ownerOfImport', param, 'teacher', relations.ownsImport),
    ownerOfExport: (param = 'exportId') => related('ownerOfExport', param, 'teacher', relations.ownsExport),
    ownerOfPortfolio: (param = 'portfolioId') =>
      related('ownerOfPortfolio', param, 'student', relations.ownsPortfolio),
    /** A teacher whom it is shown to, as long as they teach its student. */
    readerOfPortfolio: (param = 'portfolioId') =>
      related('readerOfPortfolio', param, 'teacher', relations.readsPortfolio),
    ownerOfBankImport: (param = 'bankImportId') =>
      related('ownerOfBankImport', param, 'teacher', relations.ownsBankImport),
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
    /** A teacher of the class that something was said to. */
    teacherOfMessage: (param = 'messageId') =>
      related('teacherOfMessage', param, 'teacher', relations.teachesMessage),
    /** A teacher of the class in which some people answered as one. */
    teacherOfJoint: (param = 'jointId') =>
      related('teacherOfJoint', param, 'teacher', relations.teachesJoint),
    /** A phone that continues one item. */
    phone: (): Policy => ({
      name: 'phone',
      async check(req) {
        if (!handedTo(req)) throw notFound();
      },
    }),
    ownerOfRecording: (param = 'recordingId') =>
      related('ownerOfRecording', param, null, relations.ownsRecording),
    /** Whoever looks after this Ecoute; asked again with each request, for it can be taken away. */
    administrator: (): Policy => ({
      name: 'administrator',
      async check(req) {
        if (!(await relations.administers(db, signedIn(req).id))) throw notFound();
      },
    }),
    /** Whoever records it: its owner, or the phone that continues the item. */
    recorderOf: (param = 'recordingId') =>
      orPhone(related('ownerOfRecording', param, null, relations.records), param, relations.recordedOnPhone),
    /** A teacher who may hear a sound, and so may take an excerpt of it. */
    teacherWhoHears: (param = 'recordingId') =>
      related('teacherWhoHears', param, 'teacher', relations.mayHear),
    /** A teacher of the class, and its student as soon as the assessment says so. */
    evidenceReaderOf: (param = 'takeId') => related('evidenceReaderOf', param, null, relations.readsEvidence),
    listenerOf: (param = 'recordingId') =>
      orPhone(related('listenerOf', param, null, relations.mayHear), param, async (on, handover, id) => {
        return (
          (await relations.heardOnPhone(on, handover, id)) || relations.recordedOnPhone(on, handover, id)
        );
      }),
  };
}

export type Policies = ReturnType<typeof policies>;
