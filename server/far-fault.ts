/** What went wrong on another computer or on the way to it, by its own code: it says nothing of our own database. */
export class FarFault extends Error {
  override readonly name = 'FarFault'
  constructor(
    message: string,
    readonly code: string,
  ) {
    super(message)
  }
}

/** @returns the same as a fault of another computer */
export function far(error: unknown): FarFault {
  if (error instanceof FarFault) return error
  const { code, message } = error as NodeJS.ErrnoException
  return new FarFault(String(message), typeof code === 'string' ? code : '')
}
