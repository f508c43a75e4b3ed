/**
 * What lets requests through: the token for changes and, where people have to sign in, that somebody has. A request that is refused for
 * want of either waits for it and is sent again, so that nothing is lost when a session ends in the middle of work.
 */
type Asked = () => void;

let token = '';
let entered: Promise<void> | null = null;
let enter: () => void = () => undefined;
let asked: Asked = () => undefined;

export const access = {
  get token() {
    return token;
  },
  /** Hears that somebody has to sign in. */
  onAsked(listener: Asked) {
    asked = listener;
  },
  /** Until somebody has signed in. */
  signedIn(): Promise<void> {
    if (!entered) {
      entered = new Promise((done) => (enter = done));
      asked();
    }
    return entered;
  },
  /** The token from now on; what waits goes on. */
  grant(given: string) {
    token = given;
    if (!token) return;
    enter();
    entered = null;
  },
};
