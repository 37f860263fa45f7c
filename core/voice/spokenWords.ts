/**
 * What is said to a child who cannot read, at each step of a sitting: few words, each naming a shape on the screen. The
 * browser's voice says them, or the server's where it has none; a teacher's own recording goes before both.
 */

export const SPOKEN_LANGUAGES = ['en', 'pt', 'es', 'fr', 'de', 'ar', 'ja'] as const;
export type SpokenLanguage = (typeof SPOKEN_LANGUAGES)[number];

const SENTENCES = {
  /** The first page, with something to begin. */
  begin: [
    'Hello! Press the big arrow.',
    'Olá! Toca na seta grande.',
    '¡Hola! Toca la flecha grande.',
    'Bonjour ! Appuie sur la grande flèche.',
    'Hallo! Drück auf den großen Pfeil.',
    'مرحبا! اضغط على السهم الكبير.',
    'こんにちは。おおきなやじるしをおしてね。',
  ],
  /** The first page, with nothing to begin. */
  nothing: [
    'There is nothing to do now.',
    'Agora não há nada para fazer.',
    'Ahora no hay nada que hacer.',
    'Il n’y a rien à faire maintenant.',
    'Jetzt gibt es nichts zu tun.',
    'لا يوجد شيء تفعله الآن.',
    'いまは、することがないよ。',
  ],
  /** While the browser asks for the microphone. */
  allow: [
    'This device asks whether it may hear you. Press: allow. If you cannot find it, fetch a grown-up.',
    'Este aparelho pergunta se te pode ouvir. Toca em permitir. Se não encontrares, chama um adulto.',
    'Este aparato pregunta si puede oírte. Toca permitir. Si no lo encuentras, llama a un adulto.',
    'L’appareil demande s’il peut t’entendre. Appuie sur autoriser. Si tu ne trouves pas, appelle un adulte.',
    'Das Gerät fragt, ob es dich hören darf. Drück auf Zulassen. Findest du es nicht, hol einen Erwachsenen.',
    'يسأل الجهاز هل يمكنه أن يسمعك. اضغط على: سماح. إذا لم تجده فنادِ شخصا كبيرا.',
    'このきかいが、こえをきいてもいいかたずねているよ。きょかをおしてね。わからなければ、おとなをよんでね。',
  ],
  /** The check of the microphone. */
  speakForCheck: [
    'Say something to me!',
    'Diz-me alguma coisa!',
    '¡Dime algo!',
    'Dis-moi quelque chose !',
    'Sag etwas zu mir!',
    'قل لي شيئا!',
    'なにか、はなしてみて。',
  ],
  playForCheck: [
    'Play a few notes for me!',
    'Toca algumas notas para mim!',
    '¡Toca unas notas para mí!',
    'Joue quelques notes pour moi !',
    'Spiel mir ein paar Töne vor!',
    'اعزف لي بعض النغمات!',
    'すこし、おとをだしてみて。',
  ],
  heard: [
    'I hear you well. Press the arrow.',
    'Ouço-te bem. Toca na seta.',
    'Te oigo bien. Toca la flecha.',
    'Je t’entends bien. Appuie sur la flèche.',
    'Ich höre dich gut. Drück auf den Pfeil.',
    'أسمعك جيدا. اضغط على السهم.',
    'よくきこえるよ。やじるしをおしてね。',
  ],
  louder: [
    'You are very quiet. Come nearer and speak up.',
    'Estás muito baixinho. Chega mais perto e fala mais alto.',
    'Se te oye muy bajito. Acércate y habla más alto.',
    'On t’entend tout bas. Approche-toi et parle plus fort.',
    'Du bist sehr leise. Komm näher und sprich lauter.',
    'صوتك منخفض جدا. اقترب وارفع صوتك.',
    'こえがちいさいよ。ちかづいて、おおきなこえでね。',
  ],
  softer: [
    'That is too loud. Move a little away.',
    'Está alto demais. Afasta-te um bocadinho.',
    'Está demasiado alto. Aléjate un poquito.',
    'C’est trop fort. Recule un peu.',
    'Das ist zu laut. Geh ein wenig weg.',
    'الصوت عال جدا. ابتعد قليلا.',
    'おとがおおきすぎるよ。すこしはなれてね。',
  ],
  noisy: [
    'It is noisy here. Go where it is quiet, or come nearer.',
    'Há muito barulho aqui. Vai para um sítio calmo ou chega mais perto.',
    'Aquí hay mucho ruido. Ve a un lugar tranquilo o acércate.',
    'Il y a du bruit ici. Va dans un endroit calme ou approche-toi.',
    'Hier ist es laut. Geh dorthin, wo es leise ist, oder komm näher.',
    'المكان صاخب. اذهب إلى مكان هادئ أو اقترب.',
    'まわりがうるさいよ。しずかなところへいくか、ちかづいてね。',
  ],
  notHeard: [
    'I cannot hear you. Please fetch a grown-up.',
    'Não te consigo ouvir. Chama um adulto, por favor.',
    'No te oigo. Llama a un adulto, por favor.',
    'Je ne t’entends pas. Appelle un adulte, s’il te plaît.',
    'Ich höre dich nicht. Hol bitte einen Erwachsenen.',
    'لا أسمعك. نادِ شخصا كبيرا من فضلك.',
    'こえがきこえないよ。おとなをよんでね。',
  ],
  /** Before a prompt that is heard when the ear is pressed. */
  listen: [
    'Press the ear and listen.',
    'Toca na orelha e ouve.',
    'Toca la oreja y escucha.',
    'Appuie sur l’oreille et écoute.',
    'Drück auf das Ohr und hör zu.',
    'اضغط على الأذن واستمع.',
    'みみをおして、きいてね。',
  ],
  look: [
    'Look at this. Then press the arrow.',
    'Olha para isto. Depois toca na seta.',
    'Mira esto. Luego toca la flecha.',
    'Regarde bien. Puis appuie sur la flèche.',
    'Schau dir das an. Dann drück auf den Pfeil.',
    'انظر إلى هذا. ثم اضغط على السهم.',
    'これをみてね。それから、やじるしをおしてね。',
  ],
  /** Before time to prepare that begins when the bulb is pressed. */
  think: [
    'Press the lamp. Then you have time to think.',
    'Toca na lâmpada. Depois tens tempo para pensar.',
    'Toca la bombilla. Luego tienes tiempo para pensar.',
    'Appuie sur l’ampoule. Ensuite tu as le temps de réfléchir.',
    'Drück auf die Lampe. Dann hast du Zeit zum Nachdenken.',
    'اضغط على المصباح. ثم لديك وقت للتفكير.',
    'でんきゅうをおしてね。それから、かんがえるじかんだよ。',
  ],
  speak: [
    'Your turn! Press the microphone, and speak. When you have finished, press the square.',
    'É a tua vez! Toca no microfone e fala. Quando acabares, toca no quadrado.',
    '¡Te toca! Toca el micrófono y habla. Cuando acabes, toca el cuadrado.',
    'À toi ! Appuie sur le micro et parle. Quand tu as fini, appuie sur le carré.',
    'Du bist dran! Drück auf das Mikrofon und sprich. Wenn du fertig bist, drück auf das Viereck.',
    'دورك! اضغط على الميكروفون وتكلم. عندما تنتهي اضغط على المربع.',
    'きみのばんだよ。マイクをおして、はなしてね。おわったら、しかくをおしてね。',
  ],
  play: [
    'Your turn! Press the microphone, and play. When you have finished, press the square.',
    'É a tua vez! Toca no microfone e começa a música. Quando acabares, toca no quadrado.',
    '¡Te toca! Toca el micrófono y empieza la música. Cuando acabes, toca el cuadrado.',
    'À toi ! Appuie sur le micro et joue. Quand tu as fini, appuie sur le carré.',
    'Du bist dran! Drück auf das Mikrofon und spiel. Wenn du fertig bist, drück auf das Viereck.',
    'دورك! اضغط على الميكروفون واعزف. عندما تنتهي اضغط على المربع.',
    'きみのばんだよ。マイクをおして、ひいてね。おわったら、しかくをおしてね。',
  ],
  draw: [
    'Your turn! Press the microphone. Then draw with your finger, and tell what you draw. When you have finished, press the square.',
    'É a tua vez! Toca no microfone. Depois desenha com o dedo e conta o que desenhas. Quando acabares, toca no quadrado.',
    '¡Te toca! Toca el micrófono. Luego dibuja con el dedo y cuenta lo que dibujas. Cuando acabes, toca el cuadrado.',
    'À toi ! Appuie sur le micro. Puis dessine avec ton doigt et raconte ce que tu dessines. Quand tu as fini, appuie sur le carré.',
    'Du bist dran! Drück auf das Mikrofon. Dann mal mit dem Finger und erzähl, was du malst. Wenn du fertig bist, drück auf das Viereck.',
    'دورك! اضغط على الميكروفون. ثم ارسم بإصبعك واحك ما ترسمه. عندما تنتهي اضغط على المربع.',
    'きみのばんだよ。マイクをおしてね。それから、ゆびでかきながら、おはなししてね。おわったら、しかくをおしてね。',
  ],
  recorded: [
    'That is recorded. Press the arrow. With the ear you hear yourself.',
    'Já está gravado. Toca na seta. Com a orelha ouves-te a ti.',
    'Ya está grabado. Toca la flecha. Con la oreja te oyes a ti.',
    'C’est enregistré. Appuie sur la flèche. Avec l’oreille, tu t’entends.',
    'Das ist aufgenommen. Drück auf den Pfeil. Mit dem Ohr hörst du dich selbst.',
    'تم التسجيل. اضغط على السهم. بالأذن تسمع نفسك.',
    'ろくおんできたよ。やじるしをおしてね。みみをおすと、じぶんのこえがきこえるよ。',
  ],
  recordedAgain: [
    'That is recorded. Press the arrow. Or press the round arrow to do it once more.',
    'Já está gravado. Toca na seta. Ou toca na seta redonda para repetir.',
    'Ya está grabado. Toca la flecha. O toca la flecha redonda para repetir.',
    'C’est enregistré. Appuie sur la flèche. Ou sur la flèche ronde pour recommencer.',
    'Das ist aufgenommen. Drück auf den Pfeil. Oder auf den runden Pfeil, um es noch einmal zu machen.',
    'تم التسجيل. اضغط على السهم. أو على السهم الدائري للإعادة.',
    'ろくおんできたよ。やじるしをおしてね。もういちどするなら、まるいやじるしだよ。',
  ],
  whichCounts: [
    'Press the one that your teacher shall hear.',
    'Toca no que o teu professor deve ouvir.',
    'Toca el que debe oír tu profe.',
    'Appuie sur celui que ton professeur doit écouter.',
    'Drück auf das, was deine Lehrkraft hören soll.',
    'اضغط على التسجيل الذي تريد أن يسمعه معلمك.',
    'せんせいにきかせたいほうをおしてね。',
  ],
  notKept: [
    'That did not work. Press the microphone and do it once more.',
    'Não resultou. Toca no microfone e faz outra vez.',
    'No ha funcionado. Toca el micrófono y hazlo otra vez.',
    'Ça n’a pas marché. Appuie sur le micro et recommence.',
    'Das hat nicht geklappt. Drück auf das Mikrofon und mach es noch einmal.',
    'لم ينجح ذلك. اضغط على الميكروفون وأعد.',
    'うまくいかなかったよ。マイクをおして、もういちどやってね。',
  ],
  help: [
    'Something is not right. Please fetch a grown-up.',
    'Algo não está bem. Chama um adulto, por favor.',
    'Algo no va bien. Llama a un adulto, por favor.',
    'Quelque chose ne va pas. Appelle un adulte, s’il te plaît.',
    'Etwas stimmt nicht. Hol bitte einen Erwachsenen.',
    'هناك مشكلة. نادِ شخصا كبيرا من فضلك.',
    'なにかがおかしいよ。おとなをよんでね。',
  ],
  missing: [
    'Something is still empty. Press the empty place.',
    'Ainda há um espaço vazio. Toca no espaço vazio.',
    'Todavía hay un hueco vacío. Toca el hueco vacío.',
    'Il reste une case vide. Appuie sur la case vide.',
    'Etwas ist noch leer. Drück auf das leere Feld.',
    'ما زال هناك مكان فارغ. اضغط على المكان الفارغ.',
    'まだ、あいているところがあるよ。そこをおしてね。',
  ],
  give: [
    'All is there. Press the parcel: then your teacher gets it.',
    'Está tudo. Toca no embrulho: assim o teu professor recebe-o.',
    'Está todo. Toca el paquete: así le llega a tu profe.',
    'Tout est là. Appuie sur le paquet : ton professeur le reçoit.',
    'Alles ist da. Drück auf das Päckchen: dann bekommt es deine Lehrkraft.',
    'كل شيء جاهز. اضغط على الطرد: هكذا يصل إلى معلمك.',
    'ぜんぶできたよ。つつみをおすと、せんせいにとどくよ。',
  ],
  sure: [
    'Shall your teacher get it now? Tick: yes. Back: not yet.',
    'O teu professor pode recebê-lo agora? Visto: sim. Para trás: ainda não.',
    '¿Se lo damos ya a tu profe? La marca: sí. Atrás: todavía no.',
    'On le donne maintenant à ton professeur ? La coche : oui. Retour : pas encore.',
    'Soll deine Lehrkraft es jetzt bekommen? Haken: ja. Zurück: noch nicht.',
    'هل نعطيه لمعلمك الآن؟ علامة الصح: نعم. الرجوع: ليس بعد.',
    'せんせいにわたしてもいい？チェックは、はい。もどるは、まだだよ。',
  ],
  waiting: [
    'It is on its way to your teacher. Leave this open.',
    'Vai a caminho do teu professor. Deixa isto aberto.',
    'Va de camino a tu profe. Deja esto abierto.',
    'C’est en route vers ton professeur. Laisse ouvert.',
    'Es ist auf dem Weg zu deiner Lehrkraft. Lass das hier offen.',
    'إنه في الطريق إلى معلمك. اترك هذا مفتوحا.',
    'せんせいのところへおくっているよ。このままにしておいてね。',
  ],
  /** It is open somewhere else as well. */
  elsewhere: [
    'This is open on another device. Press the arrow to go on here.',
    'Isto está aberto noutro aparelho. Toca na seta para continuares aqui.',
    'Esto está abierto en otro aparato. Toca la flecha para seguir aquí.',
    'C’est ouvert sur un autre appareil. Appuie sur la flèche pour continuer ici.',
    'Das ist auf einem anderen Gerät offen. Drück auf den Pfeil, um hier weiterzumachen.',
    'هذا مفتوح على جهاز آخر. اضغط على السهم لتكمل هنا.',
    'べつのきかいでひらいているよ。ここでつづけるなら、やじるしをおしてね。',
  ],
  timeUp: [
    'The time is over.',
    'O tempo acabou.',
    'Se acabó el tiempo.',
    'Le temps est fini.',
    'Die Zeit ist um.',
    'انتهى الوقت.',
    'じかんだよ。',
  ],
  done: [
    'Finished! It is with your teacher now.',
    'Pronto! Já está com o teu professor.',
    '¡Listo! Ya lo tiene tu profe.',
    'C’est fini ! Ton professeur l’a maintenant.',
    'Fertig! Jetzt ist es bei deiner Lehrkraft.',
    'انتهيت! إنه الآن عند معلمك.',
    'おわったよ。せんせいにとどいたよ。',
  ],
} satisfies Record<string, readonly [string, string, string, string, string, string, string]>;

export type SpokenWord = keyof typeof SENTENCES;
export const SPOKEN_WORDS = Object.keys(SENTENCES) as SpokenWord[];

export function isSpokenWord(word: string): word is SpokenWord {
  return Object.hasOwn(SENTENCES, word);
}

/** The dictionary that a language is said by; null for one that has none. @param tag BCP 47 */
export function spokenLanguage(tag: string): SpokenLanguage | null {
  const language = tag.split('-')[0]!.toLowerCase();
  return SPOKEN_LANGUAGES.find(l => l === language) ?? null;
}

/** What is said, in a language that has words of its own. */
export function sentenceOf(word: SpokenWord, language: SpokenLanguage): string {
  return SENTENCES[word][SPOKEN_LANGUAGES.indexOf(language)]!;
}
