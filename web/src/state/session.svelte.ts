/** Who is signed in, where people have to; where they have not, nobody is asked. */
import { access } from '../api/access';
import { api, type SessionState } from '../api/client';
import { notices } from './notices.svelte';

const RETRY = 2500; // milliseconds

let state = $state.raw<SessionState | null>(null);
let asked = $state(false);

function take(given: SessionState) {
  const before = state?.person;
  if (before && given.person && before.name !== given.person.name) {
    // Somebody else is here: nothing of the one before stays in this window.
    location.reload();
    return;
  }
  state = given.person || !before ? given : state;
  asked = given.sign_in && !given.person;
  access.grant(given.token);
}

access.onAsked(() => (asked = true));

export const session = {
  /** Whether it is known who is here, and whether anybody has to sign in. */
  get known() {
    return state !== null && (!state.sign_in || !!state.person);
  },
  /** Whether somebody has to sign in now. */
  get asked() {
    return asked;
  },
  get person() {
    return state?.person ?? null;
  },
  async load(): Promise<void> {
    try {
      take(await api.session());
    } catch {
      setTimeout(() => void this.load(), RETRY);
    }
  },
  /** Throws a Refusal where name or password are wrong. */
  async enter(name: string, password: string) {
    take(await api.enter(name, password));
  },
  async leave() {
    try {
      await api.leaveSession();
      location.reload();
    } catch (error) {
      notices.wrong(error);
    }
  },
};
