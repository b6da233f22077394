import { type ButtonProps, Menu } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { IconPhoto } from '@tabler/icons-react';
import { useState } from 'react';
import { fileName, saveFile } from '../../engine/files';
import { BusyButton } from '../BusyButton';
import paperStyles from './paper.module.css';

type ButtonSize = NonNullable<ButtonProps['size']>;

/** Dots of a picture to one of the screen: sharp on paper, too. */
const SHARPNESS = 3;

/** What makes a drawing look as it does. */
const DRAWN = [
  'fill',
  'fill-opacity',
  'stroke',
  'stroke-width',
  'stroke-dasharray',
  'stroke-linecap',
  'stroke-opacity',
  'opacity',
  'font-family',
  'font-size',
  'font-weight',
  'font-style',
  'text-anchor',
  'dominant-baseline',
  'visibility',
  'overflow',
];

/** Writes into each part of the drawings how it looks, for the style sheets do not go with a picture; returns what undoes it. */
function withOwnStyles(element: HTMLElement): () => void {
  const parts = [...element.querySelectorAll<SVGElement>('svg, svg *')];
  const looks = parts.map(part => {
    const style = getComputedStyle(part);
    return DRAWN.map(name => style.getPropertyValue(name));
  });
  const before = parts.map(part => part.getAttribute('style'));
  for (const [i, part] of parts.entries())
    for (const [k, name] of DRAWN.entries()) part.style.setProperty(name, looks[i]![k]!);
  return () => {
    for (const [i, part] of parts.entries()) {
      const style = before[i];
      if (style === null || style === undefined) part.removeAttribute('style');
      else part.setAttribute('style', style);
    }
  };
}

/**
 * Saves what stands in an element as a picture, to be sent or put into another document.
 *
 * @param of a selector; what is found first is taken
 */
export function PictureButtons({ of, title, size }: { of: string; title: string; size?: ButtonSize }) {
  const [busy, setBusy] = useState(false);
  const save = async (kind: 'png' | 'svg') => {
    const element = document.querySelector<HTMLElement>(of);
    if (!element) return;
    setBusy(true);
    const asBefore = withOwnStyles(element);
    try {
      const { toBlob, toSvg } = await import('html-to-image');
      // Papers are white; what is not on paper has the ground of the screen, for its colours are made for that.
      const backgroundColor = element.closest(`.${paperStyles.paper}`)
        ? '#ffffff'
        : getComputedStyle(document.body).backgroundColor;
      const options = { backgroundColor, pixelRatio: SHARPNESS, style: { margin: '0' } };
      if (kind === 'svg') {
        const url = await toSvg(element, options);
        saveFile(fileName(title, kind), decodeURIComponent(url.slice(url.indexOf(',') + 1)), 'image/svg+xml');
        return;
      }
      const picture = await toBlob(element, options);
      if (!picture) throw new Error('the browser did not draw it');
      saveFile(fileName(title, kind), new Uint8Array(await picture.arrayBuffer()), 'image/png');
    } catch (cause) {
      notifications.show({
        color: 'cranberry',
        title: 'The picture could not be made',
        message: cause instanceof Error ? cause.message : 'the browser did not draw it',
      });
    } finally {
      asBefore();
      setBusy(false);
    }
  };
  return (
    <Menu>
      <Menu.Target>
        <BusyButton
          variant="default"
          {...(size && { size })}
          leftSection={<IconPhoto size={18} />}
          busy={busy}
        >
          Picture
        </BusyButton>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Item onClick={() => void save('png')}>PNG, for a message</Menu.Item>
        <Menu.Item onClick={() => void save('svg')}>SVG, for a document</Menu.Item>
      </Menu.Dropdown>
    </Menu>
  );
}
