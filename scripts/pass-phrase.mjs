/** The pass phrase of a bench that other machines may reach: its scrypt hash (RFC 7914) is kept in the data folder, the phrase is not. */
import { randomBytes, randomInt, scryptSync } from 'node:crypto'
import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import path from 'node:path'
import { Problem } from './setup.mjs'

const syllables =
  'ba be bo da de do fa fe fo ga go ka ke ko la le lo ma me mo na ne no pa pe po ra re ro sa se so ta te to'.split(' ')
/** Four words of three syllables of 35: 61 bits. */
const invented = () =>
  Array.from({ length: 4 }, () =>
    Array.from({ length: 3 }, () => syllables[randomInt(syllables.length)]).join(''),
  ).join('-')

/**
 * What is kept of the pass phrase (salt, hash, secret of the cookies), and the phrase itself when it was made or changed now. It is made up,
 * or taken from GLUE_BENCH_PASS_PHRASE (12 characters or more). A new one ends all logins.
 */
export function passPhrase(data, renew) {
  const file = path.join(data, 'pass-phrase.json')
  const given = process.env.GLUE_BENCH_PASS_PHRASE
  if (given !== undefined && given.length < 12)
    throw new Problem('GLUE_BENCH_PASS_PHRASE is too short: take 12 characters or more.')
  const kept = existsSync(file) ? JSON.parse(readFileSync(file, 'utf8')) : null
  const fits = (p) => kept && scryptSync(p, Buffer.from(kept.salt, 'hex'), 32).toString('hex') === kept.hash
  if (kept && !renew && (given === undefined || fits(given))) return { kept, phrase: null }
  const phrase = given ?? invented()
  const salt = randomBytes(16)
  const made = {
    salt: salt.toString('hex'),
    hash: scryptSync(phrase, salt, 32).toString('hex'),
    secret: randomBytes(32).toString('hex'),
  }
  writeFileSync(file, JSON.stringify(made), { mode: 0o600 })
  return { kept: made, phrase: given === undefined ? phrase : null }
}
