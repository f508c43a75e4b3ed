/** How text looks in the proof: its style's look at the scale of the strip beside it, within what can be read. */
import type { Align, ResolvedStyle } from '../api/client';
import { typefaces } from '../state/typefaces.svelte';

const USUAL = 14.5; // pixels of running text, at the least
const SIZES = [13, 30] as const; // pixels

/** The typefaces that are tried on the screen for one of a name: itself, those that stand for it, one of its family. */
export function faceOf(font: string, family: ResolvedStyle['family'] = 'serif'): string {
  const faces = font ? typefaces.of(font).map((face) => `"${face.replace(/["\\;]/g, '')}"`) : [];
  return [...faces, `var(--${family})`].join(',');
}

/** The size on the screen of text of a size in points, beside that of the row that it stands in. */
export function sizeOf(points: number): string {
  return `font-size:clamp(${SIZES[0]}px,calc(${points} * var(--point)),${2 * SIZES[1]}px)`;
}

/** Pixels for each point of a row in a style. */
export function pointOf(style: ResolvedStyle | undefined, body: number, scale: number): number {
  const size = (style?.size ?? body) * Math.max(scale, USUAL / body);
  return Math.min(Math.max(size, SIZES[0]), SIZES[1]) / (style?.size ?? body);
}

/** CSS for text of a style; ``body`` is the size of running text in points, ``scale`` pixels for each point. */
export function textLook(style: ResolvedStyle | undefined, body: number, scale: number, align: Align | null | undefined): string {
  const size = (style?.size ?? body) * Math.max(scale, USUAL / body);
  return [
    `font-size:${Math.min(Math.max(size, SIZES[0]), SIZES[1])}px`,
    `--point:${pointOf(style, body, scale).toFixed(3)}px`,
    `font-family:${faceOf(style?.font ?? '', style?.family)}`,
    `font-weight:${style?.bold ? 700 : 400}`,
    `font-style:${style?.italic ? 'italic' : 'normal'}`,
    // Emphasis differs from the style, whatever that is.
    `--emphasis-weight:${style?.bold ? 400 : 700}`,
    `--emphasis-style:${style?.italic ? 'normal' : 'italic'}`,
    style?.color ? `color:#${style.color}` : '',
    `text-align:${(align ?? style?.align ?? 'left').replace('justify', 'left').replace('decimal', 'right')}`,
  ].join(';');
}
