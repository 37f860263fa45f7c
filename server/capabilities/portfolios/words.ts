/** The words of a portfolio's own page and paper, in the languages that students' screens speak. */
import type { StudentLanguage } from '@ecoute/contract/languages';
import { worded, type Says } from '../../platform/worded';

/** What stands in braces is filled in. */
const WORDS = {
  recorded: {
    en: 'Recorded {when}',
    pt: 'Gravado: {when}',
    es: 'Grabado: {when}',
    fr: 'Enregistré : {when}',
    de: 'Aufgenommen: {when}',
    ar: 'سُجِّل: {when}',
    ja: '録音：{when}',
  },
  about: {
    en: 'What I think of it',
    pt: 'O que penso disto',
    es: 'Lo que pienso de esto',
    fr: 'Ce que j’en pense',
    de: 'Was ich dazu denke',
    ar: 'رأيي فيه',
    ja: '自分の考え',
  },
  spoken: {
    en: 'Spoken',
    pt: 'Falado',
    es: 'Hablado',
    fr: 'À l’oral',
    de: 'Gesprochen',
    ar: 'بالصوت',
    ja: '音声',
  },
  empty: {
    en: 'There is nothing to hear here yet.',
    pt: 'Ainda não há nada para ouvir aqui.',
    es: 'Aquí aún no hay nada que escuchar.',
    fr: 'Il n’y a encore rien à écouter ici.',
    de: 'Hier gibt es noch nichts zu hören.',
    ar: 'لا شيء يُسمع هنا بعد.',
    ja: 'ここにはまだ聞けるものがありません。',
  },
  until: {
    en: 'This page is private. Its address leads here until {when}; please do not pass it on.',
    pt: 'Esta página é privada. O endereço funciona até {when}; por favor, não o passes a outros.',
    es: 'Esta página es privada. Su dirección funciona hasta el {when}; por favor, no la compartas.',
    fr: 'Cette page est privée. Son adresse mène ici jusqu’au {when} ; merci de ne pas la transmettre.',
    de: 'Diese Seite ist privat. Ihre Adresse führt bis {when} hierher; bitte gib sie nicht weiter.',
    ar: 'هذه الصفحة خاصة. عنوانها يعمل حتى {when}؛ من فضلك لا تعطه لغيرك.',
    ja: 'このページは非公開です。アドレスは {when} まで使えます。ほかの人に渡さないでください。',
  },
  codesUntil: {
    en: 'The codes lead to the sound until {when}.',
    pt: 'Os códigos levam ao som até {when}.',
    es: 'Los códigos llevan al sonido hasta el {when}.',
    fr: 'Les codes mènent au son jusqu’au {when}.',
    de: 'Die Codes führen bis {when} zum Ton.',
    ar: 'تقود الرموز إلى الصوت حتى {when}.',
    ja: 'コードから音声を {when} まで聞けます。',
  },
  dead: {
    en: 'This address leads nowhere any more. Whoever gave it to you can make a new one.',
    pt: 'Este endereço já não funciona. Quem to deu pode criar um novo.',
    es: 'Esta dirección ya no funciona. Quien te la dio puede crear otra.',
    fr: 'Cette adresse ne mène plus nulle part. La personne qui l’a donnée peut en créer une autre.',
    de: 'Diese Adresse führt nirgends mehr hin. Wer sie dir gab, kann eine neue machen.',
    ar: 'لم يعد هذا العنوان يعمل. من أعطاك إياه يمكنه إنشاء عنوان جديد.',
    ja: 'このアドレスはもう使えません。渡した人が新しいものを作れます。',
  },
} satisfies Record<string, Record<StudentLanguage, string>>;

/** The words in a language. */
export const portfolioWords = (language: StudentLanguage): Says<keyof typeof WORDS> =>
  worded(WORDS, language);

/** A day in words of a language. */
export function dayIn(language: StudentLanguage): (at: string | Date) => string {
  const format = new Intl.DateTimeFormat(language === 'en' ? 'en-GB' : language, { dateStyle: 'long' });
  return at => format.format(new Date(at));
}
