// Who may do what, and why: one rule, for the pages and for the server.
export * from './rule'
