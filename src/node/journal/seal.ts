/**
 * Who wrote a journal entry. A project can come with a journal that somebody else made, and what that says to write is
 * not to be carried out; so each entry is sealed with a key that never leaves this user's own folder.
 */
import { createHmac, randomBytes, timingSafeEqual } from 'node:crypto';
import { linkSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { homedir } from 'node:os';
import { dirname, join } from 'node:path';

const BYTES = 32;

/** HMAC-SHA256 (RFC 2104) of a text by this user's key. */
export function sealOf(text: string): string {
  return createHmac('sha256', userKey()).update(text).digest('hex');
}

export function isSealed(text: string, seal: string): boolean {
  const [given, right] = [Buffer.from(seal, 'hex'), Buffer.from(sealOf(text), 'hex')];
  return given.length === right.length && timingSafeEqual(given, right);
}

let known: Buffer | undefined;

function userKey(): Buffer {
  return (known ??= storedKey());
}

function storedKey(): Buffer {
  const path = join(process.env.XDG_STATE_HOME || join(homedir(), '.local', 'state'), 'verkstad', 'key');
  const read = () => {
    const bytes = readFileSync(path);
    if (bytes.length !== BYTES) throw new Error(`${path} is damaged: delete it`);
    return bytes;
  };
  try {
    return read();
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'ENOENT') throw error;
  }
  mkdirSync(dirname(path), { recursive: true, mode: 0o700 });
  const beside = `${path}.${randomBytes(9).toString('hex')}`;
  writeFileSync(beside, randomBytes(BYTES), { flag: 'wx', mode: 0o600 });
  try {
    // Complete or not at all, and the first of two runs that begin at once is the one that counts.
    linkSync(beside, path);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
  } finally {
    rmSync(beside, { force: true });
  }
  return read();
}
