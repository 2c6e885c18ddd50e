import { Drawer } from 'antd';
import { createContext, useContext, useEffect, useMemo, useRef, type ReactNode } from 'react';

const Inside = createContext<ReactNode>(null);

interface Props {
  size: number;
  title: string;
  className?: string;
  onClose: () => void;
  children: ReactNode;
}

/**
 * A drawer in which the script is written, open for as long as it is there.
 *
 * The drawer of the library sets a state of its own whenever it is drawn. Where each letter draws a large script
 * and letters come faster than that, React takes these for an endless loop and the letters are lost. So only what
 * is in the drawer is drawn with a letter, and the drawer itself is not.
 */
export function WritingDrawer({ size, title, className, onClose, children }: Props) {
  const close = useRef(onClose);
  useEffect(() => {
    close.current = onClose;
  });
  const drawer = useMemo(
    () => (
      <Drawer
        open
        size={size}
        title={title}
        className={className}
        onClose={() => {
          close.current();
        }}
      >
        <Content />
      </Drawer>
    ),
    [size, title, className],
  );
  return <Inside value={children}>{drawer}</Inside>;
}

const Content = () => useContext(Inside);
