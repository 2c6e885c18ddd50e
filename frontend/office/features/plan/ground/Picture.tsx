// The map as it is looked at, as a picture.
import { App, Button } from 'antd';
import { toBlob } from 'html-to-image';
import { useState, type RefObject } from 'react';
import { t } from '../../../texts/texts';
import { messageOf } from '../../../ui/states';

/** Sharp on paper too; letters are those of the browser, as nothing is fetched for it. */
const PIXELS = 2;

export function Picture({ of, name }: { of: RefObject<HTMLElement | null>; name: string }) {
  const { message } = App.useApp();
  const [busy, setBusy] = useState(false);
  const take = async () => {
    const map = of.current;
    if (map === null) return;
    setBusy(true);
    try {
      // What is only there to be pressed is no part of the picture.
      const isPart = (node: HTMLElement) => !(node instanceof Element && node.matches('.leaflet-control-zoom, button'));
      const picture = await toBlob(map, { pixelRatio: PIXELS, skipFonts: true, filter: isPart });
      if (picture === null) throw new Error(t('ground.noPicture'));
      const link = document.createElement('a');
      link.href = URL.createObjectURL(picture);
      link.download = `${name}.png`;
      link.click();
      URL.revokeObjectURL(link.href);
    } catch (error) {
      void message.error(messageOf(error), 8);
    } finally {
      setBusy(false);
    }
  };
  return (
    <Button loading={busy} onClick={() => void take()}>
      {t('ground.asPicture')}
    </Button>
  );
}
