/**
 * Abbreviations and units as people read them out. A reference voice knows few of them and spells the rest; whoever reads
 * “z. B.” says “zum Beispiel”. What is here is said beside the voice's own way, for some people do spell. Spelt so that the voice says it rightly.
 */

/** Ways to say it are parted by `|`. Where it stands in several parts, each way has as many words as it has parts. */
type Table = Readonly<Record<string, string>>;

/** By the first part of a language tag, in small letters, with the full stops that belong to them. */
const ABBREVIATIONS: Readonly<Record<string, Table>> = {
  en: {
    ...{ 'e.g.': 'for example', 'e. g.': 'for example', 'i.e.': 'that is', 'i. e.': 'that is' },
    ...{ 'no.': 'number', 'vs.': 'versus', 'approx.': 'approximately', 'st.': 'street', 'ms.': 'miz' },
    ...{ 'jr.': 'junior', 'sr.': 'senior', 'co.': 'company', 'prof.': 'professor', 'dept.': 'department' },
  },
  de: {
    ...{ 'z. b.': 'zum Beispiel', 'z.b.': 'zum Beispiel', 'd. h.': 'das heißt', 'd.h.': 'das heißt' },
    ...{ 'u. a.': 'unter anderem|und andere', 'u.a.': 'unter anderem|und andere', 'usw.': 'und so weiter' },
    ...{ 'bzw.': 'beziehungsweise', 'ca.': 'zirka', 'etc.': 'et cetera', 'evtl.': 'eventuell' },
    ...{ 'ggf.': 'gegebenenfalls', 'inkl.': 'inklusive', 'vgl.': 'vergleiche', 'nr.': 'Nummer' },
    ...{ 'dr.': 'Doktor', 'prof.': 'Professor', 'hr.': 'Herr|Herrn', 'fr.': 'Frau', 'str.': 'Straße' },
    ...{ 'st.': 'Sankt', 'mio.': 'Millionen|Million', 'tel.': 'Telefon', 's.': 'Seite', 'bd.': 'Band' },
    ...{ 'jh.': 'Jahrhundert|Jahrhunderts', 'o. ä.': 'oder Ähnliches', 'v. chr.': 'vor Christus' },
    ...{ 'n. chr.': 'nach Christus' },
  },
  es: {
    ...{ 'n.º': 'número', 'núm.': 'número', 'pág.': 'página', 'etc.': 'etcétera', 'avda.': 'avenida' },
    ...{ 'p. ej.': 'por ejemplo', 'p.ej.': 'por ejemplo', 'ee. uu.': 'estados unidos', 'd.': 'don' },
    ...{ 'ee.uu.': 'estados unidos', 'vd.': 'usted', 'vds.': 'ustedes', 'aprox.': 'aproximadamente' },
    ...{ 'prof.': 'profesor', 'tel.': 'teléfono' },
  },
  fr: {
    ...{ 'm.': 'monsieur', 'mm.': 'messieurs', 'p. ex.': 'par exemple', 'p.ex.': 'par exemple' },
    ...{
      'n°': 'numéro',
      'c.-à-d.': 'c’est-à-dire',
      'av.': 'avenue',
      'env.': 'environ',
      'prof.': 'professeur',
    },
    ...{ 'vol.': 'volume', 'tél.': 'téléphone', 'etc.': 'et cetera' },
  },
  it: {
    ...{
      'sig.': 'signor',
      'sig.ra': 'signora',
      'sig.na': 'signorina',
      'dott.': 'dottor',
      'prof.': 'professor',
    },
    ...{ 'dott.ssa': 'dottoressa', 'prof.ssa': 'professoressa', 'ecc.': 'eccetera', 'avv.': 'avvocato' },
    ...{
      'p. es.': 'per esempio',
      'p.es.': 'per esempio',
      'es.': 'esempio',
      'n.': 'numero',
      'pag.': 'pagina',
    },
  },
  pt: {
    ...{ 'sr.': 'senhor', 'sra.': 'senhora', 'srs.': 'senhores', 'prof.': 'professor', 'av.': 'avenida' },
    ...{ 'p. ex.': 'por exemplo', 'p.ex.': 'por exemplo', 'n.º': 'número', 'pág.': 'página' },
    ...{ 'd.': 'dona|dom', 'r.': 'rua', 'tel.': 'telefone' },
  },
  da: {
    ...{
      'f.eks.': 'for eksempel',
      'f. eks.': 'for eksempel',
      'bl.a.': 'blandt andet',
      'osv.': 'og så videre',
    },
    ...{ 'bl. a.': 'blandt andet', 'kl.': 'klokken', 'nr.': 'nummer', 'dvs.': 'det vil sige', 'fr.': 'fru' },
    ...{ 'mio.': 'millioner', 'm.m.': 'med mere', 'pga.': 'på grund af', 'ca.': 'cirka' },
  },
  nl: {
    ...{
      'dhr.': 'de heer',
      'mevr.': 'mevrouw',
      'bijv.': 'bijvoorbeeld',
      'bv.': 'bijvoorbeeld',
      'ca.': 'circa',
    },
    ...{ 'd.w.z.': 'dat wil zeggen', 'o.a.': 'onder andere', 'enz.': 'enzovoort', 'blz.': 'bladzijde' },
  },
  sv: {
    ...{ 't.ex.': 'till exempel', 't. ex.': 'till exempel', 'bl.a.': 'bland annat', 'osv.': 'och så vidare' },
    ...{
      'bl. a.': 'bland annat',
      'kl.': 'klockan',
      'nr.': 'nummer',
      'dvs.': 'det vill säga',
      'm.m.': 'med mera',
    },
  },
  ru: {
    ...{ 'т. е.': 'то есть', 'т.е.': 'то есть', 'т. д.': 'так далее', 'т.д.': 'так далее', 'г.': 'год|года' },
    ...{ 'т. п.': 'тому подобное', 'т.п.': 'тому подобное', 'др.': 'другие|других', 'руб.': 'рублей' },
    ...{ 'ул.': 'улица|улице', 'им.': 'имени', 'стр.': 'страница' },
  },
};

/** Said in full only behind a number. */
const UNITS: Readonly<Record<string, Table>> = {
  en: {
    ...{ kg: 'kilograms|kilos', g: 'grams', km: 'kilometres', m: 'metres', cm: 'centimetres', l: 'litres' },
    ...{ mm: 'millimetres', ml: 'millilitres', h: 'hours', min: 'minutes', mph: 'miles an hour', ft: 'feet' },
    ...{ 'km/h': 'kilometres an hour|kilometres per hour', lb: 'pounds', oz: 'ounces', s: 'seconds' },
  },
  de: {
    ...{ kg: 'Kilogramm|Kilo', g: 'Gramm', km: 'Kilometer', m: 'Meter', cm: 'Zentimeter', l: 'Liter' },
    ...{ mm: 'Millimeter', ml: 'Milliliter', h: 'Stunden|Uhr', min: 'Minuten', s: 'Sekunden' },
    ...{ 'km/h': 'Kilometer pro Stunde|Stundenkilometer', eur: 'Euro' },
  },
  es: {
    ...{ kg: 'kilogramos|kilos', g: 'gramos', km: 'kilómetros', m: 'metros', cm: 'centímetros', l: 'litros' },
    ...{ mm: 'milímetros', ml: 'mililitros', h: 'horas', min: 'minutos', s: 'segundos' },
    'km/h': 'kilómetros por hora',
  },
  fr: {
    ...{ kg: 'kilogrammes|kilos', g: 'grammes', m: 'mètres', l: 'litres', h: 'heures', min: 'minutes' },
    ...{ ml: 'millilitres', s: 'secondes', 'km/h': 'kilomètres par heure|kilomètres heure' },
  },
  it: {
    ...{ kg: 'chilogrammi|chili', g: 'grammi', km: 'chilometri', m: 'metri', cm: 'centimetri', l: 'litri' },
    ...{
      mm: 'millimetri',
      ml: 'millilitri',
      h: 'ore',
      min: 'minuti',
      s: 'secondi',
      'km/h': 'chilometri all’ora',
    },
  },
  pt: {
    ...{
      kg: 'quilogramas|quilos',
      g: 'gramas',
      km: 'quilómetros',
      m: 'metros',
      cm: 'centímetros',
      l: 'litros',
    },
    ...{ mm: 'milímetros', ml: 'mililitros', h: 'horas', min: 'minutos', s: 'segundos' },
    'km/h': 'quilómetros por hora',
  },
  da: {
    ...{ kg: 'kilo', g: 'gram', km: 'kilometer', m: 'meter', cm: 'centimeter', l: 'liter', min: 'minutter' },
    ...{ mm: 'millimeter', kr: 'kroner', 'km/t': 'kilometer i timen' },
  },
  nl: {
    ...{ kg: 'kilogram|kilo', g: 'gram', km: 'kilometer', m: 'meter', cm: 'centimeter', l: 'liter' },
    ...{ mm: 'millimeter', min: 'minuten', 'km/u': 'kilometer per uur' },
  },
  sv: {
    ...{ kg: 'kilo', g: 'gram', km: 'kilometer', m: 'meter', cm: 'centimeter', l: 'liter', min: 'minuter' },
    ...{ mm: 'millimeter', kr: 'kronor', 'km/h': 'kilometer i timmen' },
  },
  ru: {
    ...{ кг: 'килограммов|килограмма', г: 'граммов', км: 'километров|километра', м: 'метров|метра' },
    ...{ см: 'сантиметров', л: 'литров|литра', мин: 'минут|минуты', ч: 'часов|часа' },
  },
};

/**
 * German says the word between the two numbers of an hour, and writes it behind them: “14:30 Uhr” is “vierzehn Uhr dreißig”.
 * What is said is shared out among what is written in its order.
 */
function germanHour(written: readonly string[], w: number): [index: number, said: string][] {
  if (written[w + 1] !== 'uhr') return [];
  const together = /^(\d{1,2})[:.](\d\d)$/.exec(written[w]!);
  if (together?.[2] === '00') return [[w, together[1]!]];
  if (together)
    return [
      [w, `${together[1]} Uhr`],
      [w + 1, together[2]!],
    ];
  // A passage has the two numbers as two words.
  if (!/^\d\d$/.test(written[w]!) || !/^\d{1,2}$/.test(written[w - 1] ?? '')) return [];
  return [
    [w, 'Uhr'],
    [w + 1, written[w]!],
  ];
}

/** An abbreviation has so many parts at most. */
const MOST_PARTS = 2;
/** What closes a clause belongs to no abbreviation. */
const bare = (written: string) => written.toLowerCase().replace(/[,;:!?…]+$/u, '');
const ways = (inFull: string | undefined) => inFull?.split('|') ?? [];

/**
 * How the words of a text are read out where they are abbreviations.
 * @param words as they are written, with their full stops
 * @param primary the first part of a language tag, such as `de`
 * @returns for each word the ways to say it in full; none for what is no abbreviation
 */
export function inFull(words: readonly string[], primary: string): string[][] {
  const said = words.map((): string[] => []);
  const abbreviations = new Map(Object.entries(ABBREVIATIONS[primary] ?? {}));
  const units = new Map(Object.entries(UNITS[primary] ?? {}));
  const written = words.map(bare);
  written.forEach((word, w) => {
    said[w]!.push(...ways(abbreviations.get(word)));
    if (/\d$/.test(written[w - 1] ?? '')) said[w]!.push(...ways(units.get(word.replace(/\.$/, ''))));
    if (primary === 'de') for (const [index, way] of germanHour(written, w)) said[index]!.push(way);
    const parts = written.slice(w, w + MOST_PARTS);
    if (parts.length < MOST_PARTS) return;
    for (const way of ways(abbreviations.get(parts.join(' '))))
      way.split(' ').forEach((part, k) => said[w + k]!.push(part));
  });
  return said;
}
