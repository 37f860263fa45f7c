import { Fragment, useEffect, type ReactNode } from 'react';
import { directionOf } from '@ecoute/core/formats/languages';
import type { RichNode } from '@ecoute/core/formats/richText';
import { loadScript } from '../base/scripts/loadScript';

function marked(node: RichNode): ReactNode {
  return (node.marks ?? []).reduce<ReactNode>((inside, mark) => {
    if (mark.type === 'bold') return <strong>{inside}</strong>;
    if (mark.type === 'italic') return <em>{inside}</em>;
    return (
      <a href={mark.attrs?.href} target="_blank" rel="noreferrer" className="underline underline-offset-4">
        {inside}
      </a>
    );
  }, node.text);
}

function Branch({ node }: { node: RichNode }) {
  const inside = (node.content ?? []).map((child, i) => <Branch key={i} node={child} />);
  switch (node.type) {
    case 'text':
      return marked(node);
    case 'hardBreak':
      return <br />;
    case 'paragraph': {
      const lang = node.attrs?.lang || undefined;
      // An empty paragraph is a line of its own, as it was typed.
      return (
        <p lang={lang} dir={lang ? directionOf(lang) : 'auto'} className="min-h-[1lh]">
          {inside}
        </p>
      );
    }
    case 'bulletList':
      return <ul className="list-disc ps-6">{inside}</ul>;
    case 'orderedList':
      return <ol className="list-decimal ps-6">{inside}</ol>;
    case 'listItem':
      return <li>{inside}</li>;
    case 'image':
      return (
        <img
          src={`/api/recordings/${node.attrs?.recordingId}/shown`}
          alt={node.attrs?.alt ?? ''}
          loading="lazy"
          className="my-3 max-h-[28rem] max-w-full"
        />
      );
    default:
      return <Fragment>{inside}</Fragment>;
  }
}

function languagesIn(node: RichNode): string[] {
  return [...(node.attrs?.lang ? [node.attrs.lang] : []), ...(node.content ?? []).flatMap(languagesIn)];
}

/** Formatted text as it is read; plain text where there are no formats. */
export function RichText({
  doc,
  plain,
  className = '',
}: {
  doc: RichNode | null;
  plain: string;
  className?: string;
}) {
  useEffect(() => {
    if (doc) languagesIn(doc).forEach(loadScript);
  }, [doc]);
  // What a teacher wrote runs its own way, whichever way the screen runs.
  if (!doc)
    return (
      <p dir="auto" className={`whitespace-pre-wrap ${className}`}>
        {plain}
      </p>
    );
  return (
    <div className={`whitespace-pre-wrap ${className}`}>
      <Branch node={doc} />
    </div>
  );
}
