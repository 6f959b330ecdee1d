// What the fields at the edges of a page tell, for those alone: a page is not drawn anew because its file's name changed.
import { createContext, type ReactNode, useContext } from 'react'
import { noFacts, type PageFacts } from './fields'

const Facts = createContext<PageFacts>(noFacts)
export const useFacts = (): PageFacts => useContext(Facts)

export const KnownFacts = ({ facts, children }: { facts: PageFacts; children: ReactNode }) => (
  <Facts value={facts}>{children}</Facts>
)
