/** The mark: a five-sided web. */
export function Logo() {
  return (
    <a
      href="/"
      className="flex shrink-0 items-center gap-2 text-[15px] font-bold tracking-tight"
      title="All projects"
    >
      <svg
        viewBox="0 0 24 24"
        width={22}
        height={22}
        className="fill-none stroke-teal stroke-[1.6]"
        strokeLinejoin="round"
        aria-hidden
      >
        <path d="M12 2.5 21 9l-3.4 10.8H6.4L3 9z" />
        <path d="M12 7.5 16.4 10.7 14.7 15.9H9.3L7.6 10.7z" />
        <path d="M12 2.5v5M21 9l-4.6 1.7M17.6 19.8l-2.9-3.9M6.4 19.8l2.9-3.9M3 9l4.6 1.7" />
      </svg>
      Cobweb
    </a>
  );
}
