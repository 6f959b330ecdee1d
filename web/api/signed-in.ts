// Who is signed in, for every screen; the gate that asks for it is web/app/session.tsx.
import { createContext, useContext } from 'react'
import type { Person, Session, Settings } from '../../core/contract'

export interface SignedIn {
  person: Person
  session: Session
  settings: Settings
  signOut: () => Promise<void>
}
export const SignedInContext = createContext<SignedIn | null>(null)
/** The person who is signed in; only inside SessionGate. */
export const useSession = (): SignedIn => useContext(SignedInContext)!
