/** What needs a person, as the server says with every answer to what has happened. */
let problems = $state.raw<readonly string[]>([]);
/** What the clerk has seen and closed; it comes back if it goes and comes again. */
let closed = $state.raw<readonly string[]>([]);

export const health = {
  get shown() {
    return problems.filter((one) => !closed.includes(one));
  },
  close(problem: string) {
    closed = [...closed, problem];
  },
  take(said: readonly string[]) {
    if (said.join() === problems.join()) return;
    problems = said;
    closed = closed.filter((one) => said.includes(one));
  },
};
