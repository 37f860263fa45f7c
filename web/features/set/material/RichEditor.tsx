import { mergeAttributes, Node, type Editor } from '@tiptap/core';
import { Paragraph } from '@tiptap/extension-paragraph';
import { EditorContent, useEditor, useEditorState } from '@tiptap/react';
import { StarterKit } from '@tiptap/starter-kit';
import { Bold, ImagePlus, Italic, Link2, List, ListOrdered } from 'lucide-react';
import { Popover, Toolbar } from 'radix-ui';
import { useEffect, useId, useRef, useState, type ReactNode } from 'react';
import { directionOf } from '@ecoute/core/formats/languages';
import {
  isPlain,
  isSafeLink,
  plainTextOf,
  richTextOf,
  richTextProblem,
  tidied,
  type RichNode,
} from '@ecoute/core/formats/richText';
import { loadScript } from '../../../base/scripts/loadScript';
import { Button } from '../../../parts/Button';
import { Field, inputClass } from '../../../parts/Field';
import { LanguageSelect } from '../../../parts/LanguageSelect';
import { desk } from '../../../parts/recorder/delivery';
import { Arriving } from './Arriving';
import { stands } from './brought';
import { useBrought } from './useBrought';

/** A paragraph that knows its language, and runs the way that is written. */
const Paragraphs = Paragraph.extend({
  addAttributes: () => ({
    lang: {
      default: null,
      parseHTML: (element: HTMLElement) => element.getAttribute('lang'),
      renderHTML: ({ lang }: { lang?: string | null }) => (lang ? { lang, dir: directionOf(lang) } : {}),
    },
  }),
});

const Picture = Node.create({
  name: 'image',
  group: 'block',
  draggable: true,
  addAttributes: () => ({ recordingId: { default: null, rendered: false }, alt: { default: '' } }),
  renderHTML: ({ node, HTMLAttributes }) => [
    'img',
    mergeAttributes(HTMLAttributes, {
      src: `/api/recordings/${node.attrs.recordingId}/shown`,
      class: 'max-h-60 max-w-full',
    }),
  ],
});

const EXTENSIONS = [
  StarterKit.configure({
    paragraph: false,
    heading: false,
    blockquote: false,
    code: false,
    codeBlock: false,
    horizontalRule: false,
    strike: false,
    underline: false,
    trailingNode: false,
    link: { openOnClick: false, autolink: true, isAllowedUri: url => isSafeLink(url) },
  }),
  Paragraphs,
  Picture,
];

function Tool({
  name,
  on,
  onUse,
  children,
}: {
  name: string;
  on: boolean;
  onUse: () => void;
  children: ReactNode;
}) {
  return (
    <Toolbar.Button
      aria-label={name}
      title={name}
      aria-pressed={on}
      onClick={onUse}
      className={`grid size-7 place-items-center ${on ? 'bg-ink text-sheet' : 'hover:bg-sunk'}`}
    >
      {children}
    </Toolbar.Button>
  );
}

function LinkTool({ editor, href }: { editor: Editor; href: string | null }) {
  const [open, setOpen] = useState(false);
  const [url, setUrl] = useState('');
  const address =
    /^(https?:|mailto:)/i.test(url.trim()) || !url.trim() ? url.trim() : `https://${url.trim()}`;
  const fits = address === '' || isSafeLink(address);
  const put = () => {
    if (!fits) return;
    const chain = editor.chain().focus().extendMarkRange('link');
    if (address === '') chain.unsetLink().run();
    else if (editor.state.selection.empty && !href)
      chain
        .insertContent({ type: 'text', text: address, marks: [{ type: 'link', attrs: { href: address } }] })
        .run();
    else chain.setLink({ href: address }).run();
    setOpen(false);
  };
  return (
    <Popover.Root
      open={open}
      onOpenChange={o => {
        setUrl(href ?? '');
        setOpen(o);
      }}
    >
      <Popover.Trigger asChild>
        <Toolbar.Button
          aria-label="Link"
          title="Link"
          className={`grid size-7 place-items-center ${href ? 'bg-ink text-sheet' : 'hover:bg-sunk'}`}
        >
          <Link2 aria-hidden className="size-5" />
        </Toolbar.Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content align="start" sideOffset={4} className="z-50 w-80 border-2 border-ink bg-sheet p-4">
          <form
            onSubmit={event => {
              event.preventDefault();
              event.stopPropagation();
              put();
            }}
            className="grid gap-3"
          >
            <Field
              label="Where the link leads"
              error={fits ? null : 'An address begins with https://, http:// or mailto:.'}
              hint="Empty takes the link away."
            >
              {ties => (
                <input
                  {...ties}
                  value={url}
                  onChange={e => setUrl(e.target.value)}
                  placeholder="https://"
                  className={inputClass}
                />
              )}
            </Field>
            <Button type="submit" look="main" disabled={!fits}>
              {address === '' ? 'No link' : 'Put the link'}
            </Button>
          </form>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

/**
 * Text with the few formats that directions and prompts need. Says plain text as plain: the tree is null while
 * the words alone say everything.
 */
export function RichEditor({
  assessmentId,
  place,
  label,
  hint,
  error,
  placeholder,
  plain,
  doc,
  big = false,
  isFresh = false,
  onChange,
}: {
  assessmentId: string;
  /** The id of what the text belongs to, to find pictures on their way again. */
  place: string;
  label: string;
  hint?: string;
  error: string | null;
  placeholder?: string;
  plain: string;
  doc: RichNode | null;
  big?: boolean;
  /** One goes on typing here as soon as it is there. */
  isFresh?: boolean;
  onChange: (text: { plain: string; doc: RichNode | null }) => void;
}) {
  const id = useId();
  const file = useRef<HTMLInputElement>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const { deliveries, bring } = useBrought(assessmentId, `${place} text`, 'picture');
  /** What this editor said last, so that only changes from elsewhere are put into it. */
  const said = useRef(JSON.stringify(doc ?? plain));
  const told = useRef(onChange);
  useEffect(() => {
    told.current = onChange;
  });
  const editor = useEditor({
    extensions: EXTENSIONS,
    injectCSS: false,
    autofocus: isFresh ? 'end' : false,
    content: doc ?? richTextOf(plain),
    editorProps: {
      attributes: {
        role: 'textbox',
        'aria-multiline': 'true',
        'aria-labelledby': `${id}-label`,
        'aria-describedby': `${id}-told`,
        class: `rich-text min-h-full outline-none ${big ? 'font-passage text-lg leading-relaxed' : ''}`,
      },
    },
    onUpdate: ({ editor: e }) => {
      const tree = tidied(e.getJSON() as RichNode);
      const text = { plain: plainTextOf(tree), doc: isPlain(tree) ? null : tree };
      // Blank lines at the end are still being typed; words alone are kept as they stand.
      if (text.doc === null)
        text.plain = (tree.content ?? []).map(p => plainTextOf({ type: 'doc', content: [p] })).join('\n');
      said.current = JSON.stringify(text.doc ?? text.plain);
      if (text.doc === null || richTextProblem(text.doc) === null) told.current(text);
    },
  });
  const state = useEditorState({
    editor,
    selector: ({ editor: e }) => ({
      bold: e.isActive('bold'),
      italic: e.isActive('italic'),
      bullets: e.isActive('bulletList'),
      numbers: e.isActive('orderedList'),
      href: (e.getAttributes('link').href as string | undefined) ?? null,
      alt: e.isActive('image') ? ((e.getAttributes('image').alt as string | undefined) ?? '') : null,
      lang: (e.getAttributes('paragraph').lang as string | undefined) ?? '',
      empty: e.isEmpty,
    }),
  });

  const now = JSON.stringify(doc ?? plain);
  useEffect(() => {
    if (now === said.current) return;
    said.current = now;
    editor.commands.setContent(doc ?? richTextOf(plain), { emitUpdate: false });
  }, [doc, editor, now, plain]);

  // A picture that stands goes into the text where the cursor is.
  const arrived = deliveries.find(stands)?.sound.id;
  useEffect(() => {
    if (!arrived) return;
    desk.forget(arrived);
    editor
      .chain()
      .insertContent({ type: 'image', attrs: { recordingId: arrived, alt: '' } })
      .run();
  }, [arrived, editor]);

  useEffect(() => {
    if (state.lang) loadScript(state.lang);
  }, [state.lang]);

  return (
    <div>
      <div className="mb-1 flex flex-wrap items-end justify-between gap-x-4">
        <span id={`${id}-label`} className="text-sm font-semibold">
          {label}
        </span>
        <Toolbar.Root
          aria-label={`Format of the ${label.toLowerCase()}`}
          className="-my-0.5 flex flex-wrap items-center gap-0.5"
        >
          <Tool name="Bold" on={state.bold} onUse={() => editor.chain().focus().toggleBold().run()}>
            <Bold aria-hidden className="size-4.5" />
          </Tool>
          <Tool name="Italic" on={state.italic} onUse={() => editor.chain().focus().toggleItalic().run()}>
            <Italic aria-hidden className="size-4.5" />
          </Tool>
          <Tool name="List" on={state.bullets} onUse={() => editor.chain().focus().toggleBulletList().run()}>
            <List aria-hidden className="size-4.5" />
          </Tool>
          <Tool
            name="Numbered list"
            on={state.numbers}
            onUse={() => editor.chain().focus().toggleOrderedList().run()}
          >
            <ListOrdered aria-hidden className="size-4.5" />
          </Tool>
          <LinkTool editor={editor} href={state.href} />
          <Tool name="Picture" on={false} onUse={() => file.current?.click()}>
            <ImagePlus aria-hidden className="size-4.5" />
          </Tool>
          <LanguageSelect
            aria-label="Language of the paragraph"
            value={state.lang}
            none="language of the page"
            className="h-7 max-w-40 bg-transparent text-sm"
            onChange={lang =>
              editor
                .chain()
                .focus()
                .updateAttributes('paragraph', { lang: lang || null })
                .run()
            }
          />
        </Toolbar.Root>
      </div>
      <div
        className={`relative border-2 border-edge bg-sheet px-3 py-2 rounded-[3px] ${big ? 'min-h-32' : 'min-h-16'}`}
        // The whole box is the text, not only its first line.
        onClick={event => event.target === event.currentTarget && editor.commands.focus('end')}
      >
        {placeholder && state.empty && (
          <span aria-hidden className="pointer-events-none absolute text-soft">
            {placeholder}
          </span>
        )}
        <EditorContent editor={editor} />
      </div>
      <p
        id={`${id}-told`}
        role={error ? 'alert' : undefined}
        className={`mt-1 text-sm ${error ? 'font-semibold' : 'text-soft'}`}
      >
        {error ? `▲ ${error}` : hint}
      </p>
      {state.alt !== null && (
        <Field label="What the picture shows" hint="For those who do not see it." className="mt-2">
          {ties => (
            <input
              {...ties}
              value={state.alt ?? ''}
              onChange={e => editor.commands.updateAttributes('image', { alt: e.target.value })}
              className={inputClass}
            />
          )}
        </Field>
      )}
      {(trouble || deliveries.length > 0) && (
        <div className="mt-2 grid gap-2">
          {trouble && (
            <p role="alert" className="font-semibold">
              ▲ {trouble}
            </p>
          )}
          {deliveries.map(d => (
            <Arriving key={d.sound.id} delivery={d} />
          ))}
        </div>
      )}
      <input
        ref={file}
        type="file"
        aria-hidden
        accept="image/*"
        aria-label={`Picture for the ${label.toLowerCase()}`}
        className="sr-only"
        tabIndex={-1}
        onChange={e => {
          const chosen = e.target.files?.[0];
          if (chosen) void bring(chosen).then(setTrouble);
          e.target.value = '';
        }}
      />
    </div>
  );
}
