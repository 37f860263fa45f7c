import type { ButtonHTMLAttributes, ReactNode } from 'react';
import { Link, type LinkProps } from 'react-router';

type Look = 'main' | 'plain' | 'quiet' | 'record';

const LOOKS: Record<Look, string> = {
  main: 'bg-ink text-sheet border-ink hover:bg-petrol-ink hover:border-petrol-ink',
  plain: 'bg-sheet text-ink border-edge hover:bg-sunk',
  quiet:
    'bg-transparent text-ink border-transparent underline underline-offset-4 decoration-line hover:decoration-ink',
  record: 'bg-vermilion text-on-vermilion border-vermilion',
};

/** Shared by buttons and links that look like them. Touch targets are at least 44 px high. */
export function buttonClass(look: Look = 'plain', big = false): string {
  return [
    'inline-flex items-center justify-center gap-2 border-2 text-center font-semibold select-none',
    'disabled:opacity-50 disabled:cursor-not-allowed aria-disabled:opacity-50',
    big ? 'min-h-14 px-7 text-lg rounded-[3px]' : 'min-h-11 px-4 rounded-[3px]',
    LOOKS[look],
  ].join(' ');
}

export function Button({
  look = 'plain',
  big = false,
  className = '',
  ...rest
}: ButtonHTMLAttributes<HTMLButtonElement> & { look?: Look; big?: boolean }) {
  return <button type="button" className={`${buttonClass(look, big)} ${className}`} {...rest} />;
}

export function ButtonLink({
  look = 'plain',
  className = '',
  ...rest
}: LinkProps & { look?: Look; children: ReactNode }) {
  return <Link className={`${buttonClass(look)} ${className}`} {...rest} />;
}
