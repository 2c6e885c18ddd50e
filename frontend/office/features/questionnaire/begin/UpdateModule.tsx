import { useQuery } from '@tanstack/react-query';
import { Modal } from 'antd';
import { Loaded } from '../../../ui/states';
import { t } from '../../../texts/texts';
import { ChangeList } from '../release/Comparison';
import type { Script } from '../script/model';
import type { Writing } from '../script/useWriting';

interface Props {
  name: string;
  writing: Writing;
  onTake: (script: Script) => void;
  onClose: () => void;
}

/** What bringing a module up to date would change, before it does. */
export function UpdateModule({ name, writing, onTake, onClose }: Props) {
  const update = useQuery({
    queryKey: ['module update', name],
    queryFn: () => writing.updateModule(name),
    gcTime: 0,
    staleTime: Infinity,
    retry: false,
  });
  const changes = update.data?.comparison.changes.length ?? 0;
  return (
    <Modal
      open
      width={720}
      title={t('questionnaire.moduleUpdateTitle', { name })}
      okText={t('questionnaire.moduleUpdate')}
      okButtonProps={{ disabled: changes === 0 }}
      onCancel={onClose}
      onOk={() => {
        if (update.data) onTake(update.data.script);
      }}
    >
      <Loaded query={update}>{(data) => <ChangeList comparison={data.comparison} />}</Loaded>
    </Modal>
  );
}
