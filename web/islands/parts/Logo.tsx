/** The mark: a five-sided web. */
export function Logo() {
  return (
    <a
      href="/"
      className="flex shrink-0 items-center gap-2 text-[15px] font-bold tracking-tight"
      title="All projects"
    >
      <img src="/icon.svg" alt="" width={22} height={22} />
      Cobweb
    </a>
  );
}
