import type { DemoAccount } from '../../core/contract'

/** The made-up staff of the Merrowdale Canal Trust; their passwords are no secret. */
export const demoAccounts: DemoAccount[] = [
  {
    handle: 'ida',
    name: 'Ida Thornquist',
    work: 'Lock inspector: writes inspections and stoppage notices',
    password: 'lock-and-weir',
  },
  {
    handle: 'ben',
    name: 'Ben Marlowe',
    work: 'Engineer: budgets, tenders and water levels',
    password: 'lock-and-weir',
  },
  { handle: 'priya', name: 'Priya Nandakumar', work: 'Records keeper: manages every share', password: 'lock-and-weir' },
  { handle: 'tomas', name: 'Tomas Wether', work: 'Volunteer: may look, not change', password: 'lock-and-weir' },
]
