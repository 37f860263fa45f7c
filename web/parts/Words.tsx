import { linksIn } from '@ecoute/core/feedback/comments';

/** Words as they were written, with their links to follow: whatever else looks like markup is shown as text. */
export function Words({ text, className = '' }: { text: string; className?: string }) {
  return (
    <p dir="auto" className={`wrap-anywhere whitespace-pre-wrap ${className}`}>
      {linksIn(text).map((part, i) =>
        part.isLink ? (
          <a
            key={i}
            href={part.text}
            target="_blank"
            rel="noreferrer"
            className="underline underline-offset-4"
          >
            {part.text}
          </a>
        ) : (
          part.text
        ),
      )}
    </p>
  );
}
