/** Upright rules with one that holds. */
export function Wordmark({ large }: { large?: boolean }) {
  const height = large ? 36 : 22
  return (
    <span className="inline-flex items-center gap-2.5">
      <svg width={height * 0.86} height={height} viewBox="0 0 19 22" aria-hidden>
        <path d="M2 1v20M7 1v20M12 1v20M17 1v20" stroke="currentColor" strokeWidth="1.3" />
        <path d="M2 16.5h15" stroke="var(--accent)" strokeWidth="2.6" />
      </svg>
      <span className={large ? 'text-[32px] font-semibold tracking-tight' : 'text-[18px] font-semibold tracking-tight'}>
        Jaula
      </span>
    </span>
  )
}
