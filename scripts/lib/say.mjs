/** A reason why a script cannot go on, in one sentence for people. */
export class CannotGoOn extends Error {}

/** Runs a script's main function; what it cannot do is said in one sentence, without a stack. */
export async function run(main) {
  try {
    await main()
  } catch (error) {
    process.stderr.write(`${error instanceof CannotGoOn ? error.message : (error.stack ?? error)}\n`)
    process.exit(1)
  }
}
