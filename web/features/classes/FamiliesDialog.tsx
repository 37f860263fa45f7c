import type { Member } from '@ecoute/contract/classes';
import { NewFamilyAddress, type FamilyAddress } from '@ecoute/contract/families';
import { STUDENT_LANGUAGES, type StudentLanguage } from '@ecoute/contract/languages';
import { refusalOf } from '../../base/api';
import { Button } from '../../parts/Button';
import { Dialogue } from '../../parts/Dialogue';
import { Field, inputClass } from '../../parts/Field';
import { languageName } from '../../parts/LanguageSelect';
import { Failed, Loading } from '../../parts/Loading';
import { Notice } from '../../parts/Notice';
import { Tick } from '../../parts/Tick';
import { useFields } from '../../parts/useFields';
import {
  useAddFamilyAddressMutation,
  useChangeFamilyAddressMutation,
  useEndFamilyAddressMutation,
  useFamiliesQuery,
  useSetAdultMutation,
} from './endpoints';

const ENDED: Record<NonNullable<FamilyAddress['endedBy']>, string> = {
  teacher: 'removed; not written to',
  student: 'removed by the student',
  family: 'wants no more mail',
};

function Languages() {
  return STUDENT_LANGUAGES.map(tag => (
    <option key={tag} value={tag}>
      {languageName(tag)}
    </option>
  ));
}

/** Where the family of a student is written to, each address with its language. */
export function FamiliesDialog({
  classId,
  member,
  onClose,
}: {
  classId: string;
  member: Member;
  onClose: () => void;
}) {
  const of = { classId, personId: member.id };
  const { data, error, isLoading, refetch } = useFamiliesQuery(of);
  const [add, adding] = useAddFamilyAddressMutation();
  const [change, changing] = useChangeFamilyAddressMutation();
  const [end, ending] = useEndFamilyAddressMutation();
  const [setAdult, settingAdult] = useSetAdultMutation();
  const form = useFields(NewFamilyAddress, { email: '', name: '', language: 'en' });
  const refused = refusalOf(adding.error);
  const other = refusalOf(changing.error) ?? refusalOf(ending.error) ?? refusalOf(settingAdult.error);
  return (
    <Dialogue
      title={`Family of ${member.displayName}`}
      says="Spoken messages for the family go to these addresses. All teachers of this student see them; the class does not."
      onClose={onClose}
    >
      {isLoading && <Loading height={64} />}
      {!data && !isLoading && <Failed error={error} again={() => void refetch()} />}
      {data && (
        <>
          <ul aria-label="Addresses" className="mt-4 divide-y divide-line border-y border-line empty:hidden">
            {data.addresses.map(a => (
              <li key={a.id} className="flex flex-wrap items-center gap-x-3 gap-y-1 py-2">
                <span className="min-w-0 flex-1 basis-48">
                  <span
                    className={`block break-all ${a.endedBy ? 'text-soft line-through' : 'font-semibold'}`}
                  >
                    {a.email}
                  </span>
                  <span dir="auto" className="block text-sm text-soft">
                    {[a.name, a.endedBy && ENDED[a.endedBy]].filter(Boolean).join(' · ')}
                  </span>
                </span>
                {!a.endedBy && (
                  <select
                    aria-label={`Language of ${a.email}`}
                    value={a.language}
                    onChange={e =>
                      void change({
                        ...of,
                        id: a.id,
                        name: a.name,
                        language: e.target.value as StudentLanguage,
                      })
                    }
                    className="min-h-11 border-2 border-edge bg-sheet px-2"
                  >
                    <Languages />
                  </select>
                )}
                {a.endedBy === null ? (
                  <Button
                    look="quiet"
                    aria-label={`Remove ${a.email}`}
                    onClick={() => void end({ ...of, id: a.id, ended: true })}
                  >
                    Remove
                  </Button>
                ) : (
                  a.endedBy === 'teacher' && (
                    <Button
                      aria-label={`Undo for ${a.email}`}
                      onClick={() => void end({ ...of, id: a.id, ended: false })}
                    >
                      Undo
                    </Button>
                  )
                )}
              </li>
            ))}
          </ul>
          <form
            className="mt-4 grid gap-3"
            noValidate
            onSubmit={form.submit(
              values =>
                void add({ ...of, ...values })
                  .unwrap()
                  .then(form.reset, () => undefined),
            )}
          >
            <Field label="Mail address" error={form.wrong.email ?? refused?.fields?.email}>
              {ties => <input {...ties} {...form.field('email')} type="email" className={inputClass} />}
            </Field>
            <div className="grid gap-3 sm:grid-cols-2">
              <Field label="Who that is, if you like" error={form.wrong.name}>
                {ties => <input {...ties} {...form.field('name')} dir="auto" className={inputClass} />}
              </Field>
              <Field label="Language of the mails" error={form.wrong.language}>
                {ties => (
                  <select {...ties} {...form.field('language')} className={inputClass}>
                    <Languages />
                  </select>
                )}
              </Field>
            </div>
            {refused && !refused.fields && <Notice kind="trouble">{refused.message}</Notice>}
            {other && <Notice kind="trouble">{other.message}</Notice>}
            <div>
              <Button look="main" type="submit" disabled={adding.isLoading}>
                Add this address
              </Button>
            </div>
          </form>
          <div className="mt-4 border-t border-line pt-3">
            <Tick checked={data.isAdult} onChange={isAdult => void setAdult({ ...of, isAdult })}>
              {member.displayName} is of age, and sees and removes these addresses themselves
            </Tick>
          </div>
          <div className="mt-3">
            <Button onClick={onClose}>Close</Button>
          </div>
        </>
      )}
    </Dialogue>
  );
}
