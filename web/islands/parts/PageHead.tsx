import { ArrowLeft } from 'lucide-react';
import { Logo } from './Logo.tsx';
import { ThemeButton } from './ThemeButton.tsx';

/** Head of a page beside the library: the way back, and what the page is. */
export function PageHead({ title }: { title: string }) {
  return (
    <>
      <header className="flex h-14 items-center justify-between">
        <Logo />
        <span className="flex gap-2">
          <ThemeButton />
          <a className="btn" href="/">
            <ArrowLeft size={15} /> Library
          </a>
        </span>
      </header>
      <h1 className="mt-2 text-[20px] font-semibold tracking-tight">{title}</h1>
    </>
  );
}
