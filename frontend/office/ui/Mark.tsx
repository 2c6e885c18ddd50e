import { NAME } from '../../shared/texts/catalogue';

export const Mark = ({ dark = false }: { dark?: boolean }) => (
  <span className={dark ? 'mark dark' : 'mark'}>
    <i aria-hidden />
    {NAME}
  </span>
);
