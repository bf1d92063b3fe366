/** How the kernels of this thread or process stand: what they hold, and whether one had to be given up. */
import { exactBytes } from './exact/kernel'
import { isSpoilt } from './trap'

/** Bytes of the exact kernel, which gives no memory back, and whether any kernel trapped: whoever reads too much here is replaced. */
export const kernelMemory = (): { bytes: number; spoilt: boolean } => ({ bytes: exactBytes(), spoilt: isSpoilt() })
