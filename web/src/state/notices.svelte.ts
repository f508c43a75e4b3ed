/** Short messages at the edge of the screen; one may offer an action, such as undoing a deletion. */
export interface Notice {
  id: number;
  sentence: string;
  kind: 'said' | 'wrong';
  action?: { name: string; run: () => void };
}

const SECONDS = { said: 8, wrong: 20 };

let shown = $state<Notice[]>([]);
let last = 0;

export const notices = {
  get shown() {
    return shown;
  },
  say(sentence: string, action?: Notice['action'], kind: Notice['kind'] = 'said') {
    const id = ++last;
    shown = [...shown.slice(-3), { id, sentence, kind, action }];
    setTimeout(() => notices.dismiss(id), SECONDS[kind] * 1000);
  },
  wrong(error: unknown) {
    notices.say(error instanceof Error ? error.message : String(error), undefined, 'wrong');
  },
  dismiss(id: number) {
    shown = shown.filter((notice) => notice.id !== id);
  },
};
