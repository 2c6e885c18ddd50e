import { useQuery } from '@tanstack/react-query';
import { useSearchParams } from 'react-router';
import { api, ask } from '../../../shared/api/client';
import { Loaded } from '../../ui/states';
import { useQuestionnaireId } from '../../ui/study';
import { Editor } from './Editor';
import { NewQuestionnaire } from './NewQuestionnaire';
import './questionnaire.css';

/** The questionnaire station: the script sheet with its pane. */
export default function ScriptPage() {
  const id = useQuestionnaireId();
  const [params] = useSearchParams();
  return id === null || params.has('new') ? <NewQuestionnaire /> : <Draft key={id} id={id} />;
}

/** The script of a questionnaire, be it of interviews or of the fields of units. */
export function Draft({ id }: { id: number }) {
  const draft = useQuery({
    queryKey: ['draft', id],
    queryFn: () =>
      ask(api.GET('/api/questionnaires/{questionnaire_id}', { params: { path: { questionnaire_id: id } } })),
    staleTime: Infinity,
    gcTime: 0,
    refetchOnWindowFocus: false,
  });
  const kinds = useQuery({ queryKey: ['kinds'], queryFn: () => ask(api.GET('/api/kinds')), staleTime: Infinity });
  return (
    <Loaded query={draft}>
      {(data) => <Loaded query={kinds}>{(k) => <Editor key={data.id} draft={data} kinds={k} />}</Loaded>}
    </Loaded>
  );
}
