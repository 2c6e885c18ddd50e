// A language more: found by its name in any of its spellings, or by its tag.
import { Picker } from '../../../ui/Picker';
import { t } from '../../../texts/texts';
import { languageName } from '../../../../shared/interview/languages';
import type { Script } from '../script/model';

// ISO 639-1; a tag with a region or a script is typed out.
const TAGS =
  'aa ab af ak am an ar as av ay az ba be bg bi bm bn bo br bs ca ce ch co cr cs cv cy da de dv dz ee el en es et eu fa ff fi fj fo fr fy ga gd gl gn gu gv ha he hi ho hr ht hu hy hz id ig ii ik io is it iu ja jv ka kg ki kj kk kl km kn ko kr ks ku kv kw ky lb lg li ln lo lt lu lv mg mh mi mk ml mn mr ms mt my na nb nd ne ng nl nn nr nv ny oc oj om or os pa pl ps pt qu rm rn ro ru rw sa sc sd se sg si sk sl sm sn so sq sr ss st su sv sw ta te tg th ti tk tl tn to tr ts tt tw ty ug uk ur uz ve vi wa wo xh yi yo za zh zu'.split(
    ' ',
  );

interface Language {
  tag: string;
  english: string;
}

const english = new Intl.DisplayNames(['en'], { type: 'language', fallback: 'code' });
const LANGUAGES: Language[] = TAGS.map((tag) => ({ tag, english: english.of(tag) ?? tag })).sort((a, b) =>
  a.english.localeCompare(b.english),
);
const TAG = /^[a-z]{2,3}(-[A-Za-z0-9]{2,8})*$/;

function search(typed: string, taken: string[]): Language[] {
  const wanted = typed.trim().toLowerCase();
  // The tag itself first, then what begins so.
  const rank = ({ tag, english: name }: Language) =>
    tag === wanted ? 0 : name.toLowerCase().startsWith(wanted) || languageName(tag).startsWith(wanted) ? 1 : 2;
  const found = LANGUAGES.filter(
    ({ tag, english: name }) =>
      !taken.includes(tag) && (tag === wanted || `${name} ${languageName(tag)}`.toLowerCase().includes(wanted)),
  ).sort((a, b) => rank(a) - rank(b));
  const written = typed.trim();
  const known = found.some(({ tag }) => tag === written) || taken.includes(written);
  if (!TAG.test(written) || known || LANGUAGES.some(({ tag }) => tag === written)) return found;
  try {
    return [...found, { tag: written, english: english.of(written) ?? written }];
  } catch {
    return found;
  }
}

export const AddLanguage = ({
  script,
  onClose,
  onAdd,
}: {
  script: Script;
  onClose: () => void;
  onAdd: (tag: string) => void;
}) => (
  <Picker
    label={t('questionnaire.addLanguage')}
    placeholder={t('languages.nameOrTag')}
    width={420}
    top={110}
    search={(text) => search(text, script.languages)}
    keyOf={(language) => language.tag}
    onPick={(language) => {
      onAdd(language.tag);
    }}
    onClose={onClose}
  >
    {(language) => (
      <>
        <span className="clip">
          {language.english} <span className="muted">{languageName(language.tag)}</span>
        </span>
        <span className="mono muted">{language.tag}</span>
      </>
    )}
  </Picker>
);
