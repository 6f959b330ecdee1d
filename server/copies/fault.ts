import { SaidError } from '../../core/words/said'

/** Something is not as it has to be at a place for copies; nothing was changed there by what found it. */
export class CopyFault extends SaidError {
  override readonly name = 'CopyFault'
}

/** There is no folder of that path, or none that can be reached. */
export class NoSuchFolder extends CopyFault {}
