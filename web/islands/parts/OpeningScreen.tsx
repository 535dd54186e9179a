import { Logo } from './Logo.tsx';

/** While a character loads, or when it cannot be opened. @param failure - Why not; null while it loads. */
export function OpeningScreen({ failure }: { failure: string | null }) {
  if (failure) {
    return (
      <div className="p-6">
        <Logo />
        <div role="alert" className="card mx-auto mt-16 max-w-md p-6">
          <h1 className="text-[20px] font-semibold">This character cannot be opened</h1>
          <p className="mt-2">{failure}</p>
          <a href="/" className="btn btn-main mt-4">
            All projects
          </a>
        </div>
      </div>
    );
  }
  return (
    <div className="flex h-full flex-col">
      <header className="flex h-13 items-center border-b border-line bg-panel px-4">
        <Logo />
      </header>
      <div className="stage-ground flex flex-1 items-center justify-center text-soft" role="status">
        Loading the character…
      </div>
    </div>
  );
}
