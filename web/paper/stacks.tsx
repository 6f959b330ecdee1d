// How copies lie on each other when they come out: a small picture.
const pages = [1, 2, 3]

export function Stacks({ collate }: { collate: boolean }) {
  const stacks = collate ? [pages, pages] : pages.slice(0, 2).map((page) => [page, page])
  return (
    <svg viewBox="0 0 84 34" className="h-[34px] w-[84px] shrink-0" aria-hidden="true">
      {stacks.map((stack, at) => (
        <g key={at} transform={`translate(${at * 42 + 2} 2)`}>
          {[...stack].reverse().map((page, under) => {
            const back = stack.length - 1 - under
            return (
              <g key={under} transform={`translate(${back * 7} ${back * 3})`}>
                <rect width="18" height="23" className="fill-sheet stroke-rule-strong" strokeWidth="1" />
                <text x="4" y="10" className="fill-ink text-[8px]">
                  {page}
                </text>
              </g>
            )
          })}
        </g>
      ))}
    </svg>
  )
}
