import clsx from 'clsx'
import { Inbox } from 'lucide-react'
import type { ReactNode } from 'react'
import { Link } from 'react-router'
import type { Share } from '../../core/contract'
import { t } from '../words'

/** The shares at the left of a screen that is about one of them. */
export function ShareNav({
  title,
  shares,
  here,
  to,
  children,
}: {
  title: string
  shares: readonly Share[]
  here: string
  to: (share: Share) => string
  children?: ReactNode
}) {
  return (
    <nav
      className="w-full shrink-0 overflow-auto border-b px-3 py-2 md:w-60 md:border-b-0 md:border-r md:py-6"
      aria-label={t('files.shares')}
    >
      <h2 className="px-3 pb-2 text-[13px] text-soft max-md:sr-only">{title}</h2>
      <ul className="max-md:flex max-md:overflow-x-auto">
        {shares.map((share) => (
          <li key={share.id}>
            <Link
              to={to(share)}
              aria-current={share.id === here ? 'page' : undefined}
              className={clsx(
                'flex items-center gap-2.5 whitespace-nowrap rounded-md px-3 py-2',
                share.id === here ? 'bg-wash font-semibold' : 'hover:bg-wash',
              )}
            >
              <Inbox size={17} className="text-soft" aria-hidden />
              <span className="min-w-0 flex-1 truncate">{share.name}</span>
            </Link>
          </li>
        ))}
      </ul>
      {children && <p className="px-3 pt-1 text-[13px] md:pt-6 leading-[18px] text-soft">{children}</p>}
    </nav>
  )
}
