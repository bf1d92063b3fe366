/** Seeded random numbers: the same seed gives the same run on every machine. */
export interface Random {
  /** Uniform in [0, 1). */
  next(): number
  /** Normal with mean 0 and standard deviation 1 (Box & Muller 1958). */
  normal(): number
}

/** 32-bit generator by hashed counter (the finaliser of MurmurHash3, Appleby 2011, public domain). */
export function random(seed: number): Random {
  let state = seed >>> 0
  const next = () => {
    state = (state + 0x9e3779b9) >>> 0
    let h = state
    h = Math.imul(h ^ (h >>> 16), 0x85ebca6b)
    h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35)
    return ((h ^ (h >>> 16)) >>> 0) / 4294967296
  }
  return {
    next,
    normal: () => Math.sqrt(-2 * Math.log(1 - next())) * Math.cos(2 * Math.PI * next()),
  }
}
