import '@fontsource-variable/commissioner';
import '@fontsource-variable/source-serif-4';
import '@fontsource/dejavu-mono';
import 'carbon-components-svelte/css/all.css';
import './theme.css';
import './shared/equations.css';
import { mount } from 'svelte';
import App from './App.svelte';
import { shipTypefaces } from './state/typefaces.svelte';

shipTypefaces();

export default mount(App, { target: document.getElementById('app')! });
