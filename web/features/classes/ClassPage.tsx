import { MoreVertical } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import type { ClassDetail, Member } from '@ecoute/contract/classes';
import { useTitle } from '../../base/useTitle';
import { Button, ButtonLink } from '../../parts/Button';
import { Confirm } from '../../parts/Confirm';
import { Empty } from '../../parts/Empty';
import { languageName } from '../../parts/LanguageSelect';
import { Failed, Loading } from '../../parts/Loading';
import { Notice } from '../../parts/Notice';
import { AddStudent } from './AddStudent';
import { CalledDialog } from './CalledDialog';
import { ArrangementDialog } from './ArrangementDialog';
import { arrangementWords } from './arrangementWords';
import { ChangeClassDialog } from './ChangeClassDialog';
import { CorrectStudentDialog } from './CorrectStudentDialog';
import {
  useClassQuery,
  useMoveStudentMutation,
  usePutClassAwayMutation,
  useRemoveMemberMutation,
} from './endpoints';
import { FamiliesDialog } from './FamiliesDialog';
import { MoveStudentDialog } from './MoveStudentDialog';
import { Groups } from './Groups';
import { Asked } from './Asked';
import { Teachers } from './Teachers';

function StudentRow({
  of,
  student,
  teaches,
  onArrange,
  onCall,
  onCorrect,
  onMove,
  onFamily,
  onRemove,
}: {
  of: ClassDetail;
  student: Member;
  teaches: boolean;
  onArrange: () => void;
  onCall: () => void;
  onCorrect: () => void;
  onMove: () => void;
  onFamily: () => void;
  onRemove: () => void;
}) {
  const groups = of.groups.filter(g => student.groupIds.includes(g.id)).map(g => g.name);
  const granted = arrangementWords(student.arrangement, languageName);
  const entry = 'flex min-h-11 cursor-pointer items-center px-4 outline-none data-[highlighted]:bg-sunk';
  return (
    <li className="flex items-stretch bg-sheet">
      <div className="grid min-w-0 flex-1 gap-x-6 gap-y-1 px-5 py-3 sm:grid-cols-[minmax(0,1fr)_minmax(0,1.2fr)]">
        <span className="min-w-0">
          <span dir="auto" className="font-semibold">
            {student.displayName}
          </span>
          <span className="block text-sm break-all text-soft">{student.signInName}</span>
        </span>
        <span className="min-w-0 text-sm">
          {groups.length > 0 && <span className="block">{groups.join(', ')}</span>}
          {granted.length > 0 && <span className="block">{granted.join(', ')}</span>}
          {student.families > 0 && (
            <span className="block text-soft">
              {student.families} {student.families === 1 ? 'address' : 'addresses'} of the family
            </span>
          )}
          {!student.hasSignIn && (
            <span className="block text-soft">
              {student.codeUntil ? 'has a code, not used yet' : 'has not signed in yet'}
            </span>
          )}
        </span>
      </div>
      <DropdownMenu.Root modal={false}>
        <DropdownMenu.Trigger
          aria-label={`More for ${student.displayName}`}
          className="grid w-12 shrink-0 place-items-center border-s border-line hover:bg-sunk"
        >
          <MoreVertical aria-hidden className="size-5" />
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content align="end" className="z-50 min-w-56 border-2 border-ink bg-sheet">
            {!teaches && (
              <DropdownMenu.Label className="max-w-64 px-4 py-2 text-sm text-soft">
                Access arrangements, codes and mail are for the teachers of this class.
              </DropdownMenu.Label>
            )}
            {teaches && (
              <>
                <DropdownMenu.Item className={entry} onSelect={onArrange}>
                  Access arrangement …
                </DropdownMenu.Item>
                <DropdownMenu.Item className={entry} onSelect={onCorrect}>
                  Correct name or mail …
                </DropdownMenu.Item>
                <DropdownMenu.Item className={entry} onSelect={onFamily}>
                  Addresses of the family …
                </DropdownMenu.Item>
                <DropdownMenu.Item className={entry} asChild>
                  <Link to={`/classes/${of.id}/speak?to=${student.id}`}>Speak to them …</Link>
                </DropdownMenu.Item>
                <DropdownMenu.Item className={entry} onSelect={onMove}>
                  Move to another class …
                </DropdownMenu.Item>
                <DropdownMenu.Item className={entry} onSelect={onCall}>
                  What comments call them …
                </DropdownMenu.Item>
                <DropdownMenu.Item className={entry} asChild>
                  <Link to={`/classes/${of.id}/codes?for=${student.id}`}>
                    {student.hasSignIn ? 'A code for a forgotten password …' : 'A one-time code …'}
                  </Link>
                </DropdownMenu.Item>
                {!student.hasSignIn && (
                  <DropdownMenu.Item className={entry} asChild>
                    <Link to={`/classes/${of.id}/slips?for=${student.id}`}>A slip to sign in by …</Link>
                  </DropdownMenu.Item>
                )}
                <DropdownMenu.Item className={entry} onSelect={onRemove}>
                  Take out of this class …
                </DropdownMenu.Item>
              </>
            )}
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
    </li>
  );
}

/** A class: its students, groups and teachers, and the ways in and out. */
export function ClassPage() {
  const { id = '' } = useParams();
  const { data, error, isLoading, refetch } = useClassQuery(id);
  const [remove] = useRemoveMemberMutation();
  const [arranging, setArranging] = useState<Member | null>(null);
  const [calling, setCalling] = useState<Member | null>(null);
  const [leaving, setLeaving] = useState<Member | null>(null);
  const [correcting, setCorrecting] = useState<Member | null>(null);
  const [family, setFamily] = useState<Member | null>(null);
  const [moving, setMoving] = useState<Member | null>(null);
  const [changing, setChanging] = useState(false);
  const [moved, setMoved] = useState<{ words: string; personId: string; toClassId: string } | null>(null);
  const [move] = useMoveStudentMutation();
  const [putAway] = usePutClassAwayMutation();
  useTitle(data?.name ?? 'Class');
  if (isLoading) return <Loading />;
  if (!data) return <Failed error={error} again={() => void refetch()} />;
  const students = data.members.filter(m => m.role === 'student');
  const waiting = students.filter(s => !s.hasSignIn).length;
  // A coordinator plans; who is in the class, and signs in as whom, is for its teachers.
  const teaches = data.own === 'teacher';
  return (
    <div className="grid gap-8 lg:grid-cols-[minmax(0,1fr)_22rem]">
      <section className="min-w-0">
        <p className="text-soft">
          <Link to="/classes" className="underline underline-offset-4">
            Classes
          </Link>
        </p>
        <div className="flex flex-wrap items-center gap-4">
          <h1 className="text-3xl">{data.name}</h1>
          {!data.putAwayAt && (
            <span className="ms-auto flex flex-wrap gap-3">
              {teaches && students.length > 0 && (
                <ButtonLink to={`/classes/${id}/speak`}>Speak to this class</ButtonLink>
              )}
              <ButtonLink look="main" to={`/release/new?class=${data.id}`}>
                Release something to this class
              </ButtonLink>
            </span>
          )}
        </div>
        <p className="mt-1 text-soft">
          {data.subject === 'music' ? 'Music' : 'Language'} · {students.length}{' '}
          {students.length === 1 ? 'student' : 'students'}
        </p>
        {data.putAwayAt && (
          <div className="mt-4">
            <Notice
              action={<Button onClick={() => void putAway({ classId: id, away: false })}>Put it back</Button>}
            >
              This class is put away: it is in no list. What is released to it goes on as it does.
            </Notice>
          </div>
        )}
        {moved && (
          <div className="mt-4">
            <Notice
              action={
                <Button
                  onClick={() => {
                    void move({ classId: moved.toClassId, personId: moved.personId, toClassId: id });
                    setMoved(null);
                  }}
                >
                  Undo
                </Button>
              }
            >
              {moved.words}
            </Notice>
          </div>
        )}
        <div className="mt-4 flex flex-wrap gap-3">
          <ButtonLink to={`/classes/${id}/list`}>Bring in a list …</ButtonLink>
          {teaches && (
            <ButtonLink to={`/classes/${id}/codes`}>
              One-time codes{waiting > 0 ? ` (${waiting} wait)` : ''} …
            </ButtonLink>
          )}
          {teaches && waiting > 0 && (
            <ButtonLink to={`/classes/${id}/slips`}>Slips for children who do not read yet …</ButtonLink>
          )}
          {students.length > 0 && (
            <ButtonLink to={`/api/classes/${id}/list`} reloadDocument download look="quiet">
              The list as CSV
            </ButtonLink>
          )}
          <Button look="quiet" onClick={() => setChanging(true)}>
            Name and subject …
          </Button>
          {teaches && !data.putAwayAt && (
            <Button look="quiet" onClick={() => void putAway({ classId: id, away: true })}>
              Put this class away
            </Button>
          )}
        </div>
        {students.length === 0 ? (
          <div className="mt-5">
            <Empty title="Nobody is in this class yet">
              Bring in a list, or add the first student here. They begin with a one-time code that you print.
            </Empty>
          </div>
        ) : (
          <ol className="mt-5 grid gap-px bg-line">
            {students.map(s => (
              <StudentRow
                key={s.id}
                of={data}
                student={s}
                teaches={teaches}
                onArrange={() => setArranging(s)}
                onCall={() => setCalling(s)}
                onCorrect={() => setCorrecting(s)}
                onMove={() => setMoving(s)}
                onFamily={() => setFamily(s)}
                onRemove={() => setLeaving(s)}
              />
            ))}
          </ol>
        )}
      </section>
      <div className="grid content-start gap-8">
        <AddStudent classId={id} teaches={teaches} />
        <Groups of={data} />
        <Teachers of={data} mayChange={teaches} />
        <Asked of={data} />
      </div>
      {arranging && (
        <ArrangementDialog
          key={arranging.id}
          classId={id}
          member={arranging}
          onClose={() => setArranging(null)}
        />
      )}
      {changing && <ChangeClassDialog of={data} onClose={() => setChanging(false)} />}
      {correcting && (
        <CorrectStudentDialog
          key={correcting.id}
          classId={id}
          member={correcting}
          onClose={() => setCorrecting(null)}
        />
      )}
      {family && (
        <FamiliesDialog key={family.id} classId={id} member={family} onClose={() => setFamily(null)} />
      )}
      {moving && (
        <MoveStudentDialog
          key={moving.id}
          classId={id}
          className={data.name}
          member={moving}
          onMoved={(words, toClassId) => setMoved({ words, personId: moving.id, toClassId })}
          onClose={() => setMoving(null)}
        />
      )}
      {calling && (
        <CalledDialog key={calling.id} classId={id} member={calling} onClose={() => setCalling(null)} />
      )}
      <Confirm
        open={leaving !== null}
        onClose={() => setLeaving(null)}
        title={`Take ${leaving?.displayName ?? ''} out of ${data.name}?`}
        yes="Take out"
        no="Stay"
        onYes={() => leaving && void remove({ classId: id, personId: leaving.id })}
      >
        <p>
          What they have recorded stays with this class’s teachers and with them. What they have not begun is
          no longer theirs to do.
        </p>
      </Confirm>
    </div>
  );
}
