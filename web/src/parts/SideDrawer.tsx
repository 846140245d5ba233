import { Drawer } from '@mantine/core';
import type { ReactNode } from 'react';
import classes from './SideDrawer.module.css';

interface SideDrawerProps {
  opened: boolean;
  title: ReactNode;
  /** What the button that closes it is called. */
  closeLabel: string;
  width: number;
  onClose: () => void;
  children: ReactNode;
}

/** A sheet from the right over the screen it is about. */
export function SideDrawer({ opened, title, closeLabel, width, onClose, children }: SideDrawerProps) {
  return (
    <Drawer
      opened={opened}
      onClose={onClose}
      position="right"
      size={width}
      title={title}
      closeButtonProps={{ 'aria-label': closeLabel }}
      overlayProps={{ backgroundOpacity: 0.25 }}
      classNames={{ title: classes.title, content: classes.content, header: classes.content }}
    >
      {children}
    </Drawer>
  );
}
