import { Button } from 'antd';
import { api, ask } from '../../../shared/api/client';
import { t } from '../../texts/texts';
import { useMoments } from '../../ui/moments';
import { useFieldChange, useOpenCodes } from './phones';

/** Codes that were given out and are not used yet; whoever finds one could pair a phone with it. */
export function OpenCodes({ studyId }: { studyId: number }) {
  const { dayAndTime } = useMoments();
  const codes = useOpenCodes(studyId, true);
  const withdraw = useFieldChange(studyId, (ids: number[]) =>
    ask(
      api.POST('/api/studies/{study_id}/pairing-codes/withdrawal', {
        params: { path: { study_id: studyId } },
        body: { ids },
      }),
    ),
  );
  const open = codes.data ?? [];
  const last = open.at(-1);
  if (last === undefined) return null;
  const names = [...new Set(open.map((code) => code.enumerator))];
  const shown = names.length > 3 ? `${names.slice(0, 3).join(', ')} +${String(names.length - 3)}` : names.join(', ');
  return (
    <p className="open-codes">
      {t('field.openCodes', { count: open.length, names: shown, until: dayAndTime(last.expires_at) })}
      <Button
        size="small"
        loading={withdraw.isPending}
        onClick={() => {
          withdraw.mutate(open.map((code) => code.id));
        }}
      >
        {t('field.withdrawCodes', { count: open.length })}
      </Button>
    </p>
  );
}
