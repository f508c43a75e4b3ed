/** Which view is shown, kept in the address so that Back works and a view can be bookmarked. */
export type Route = { view: 'tray' } | { view: 'desk' | 'deliver'; id: string };

function read(): Route {
  const [, view, id] = location.hash.match(/^#\/(desk|deliver)\/([\w-]+)/) ?? [];
  return view && id ? { view: view as 'desk' | 'deliver', id } : { view: 'tray' };
}

let current = $state<Route>(read());
addEventListener('hashchange', () => (current = read()));

export const route = {
  get current() {
    return current;
  },
};
export const trayAddress = '#/';
export const deskAddress = (id: string) => `#/desk/${id}`;
export const deliverAddress = (id: string) => `#/deliver/${id}`;
