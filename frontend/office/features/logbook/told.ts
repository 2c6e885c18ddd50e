// What happened, in words that follow the name of whoever did it.
import { t } from '../../texts/texts';
import { roleWords } from '../../ui/roles';
import { text } from '../../ui/text';

type Detail = Record<string, unknown>;

const remarkOf = (detail: Detail): string => (text(detail.remark) === '' ? '' : `: “${text(detail.remark)}”`);

/** With what a decision has made of the register. */
function withUnits(words: string, { filled, left, taken_back: back }: Detail): string {
  if (Number(back ?? 0) > 0) return t('logbook.takenBackUnits', { words, count: Number(back) });
  if (Number(left ?? 0) > 0) return t('logbook.leftUnits', { words, count: Number(filled), left: Number(left) });
  return Number(filled ?? 0) > 0 ? t('logbook.filledUnits', { words, count: Number(filled) }) : words;
}

const TOLD: Record<string, (detail: Detail) => string> = {
  arrived: () => t('logbook.handed'),
  read: () => t('logbook.read'),
  accepted: (detail) => withUnits(t('logbook.accepted'), detail),
  'sent back': (detail) => withUnits(t('logbook.sentBack'), detail) + remarkOf(detail),
  'set aside': (detail) => withUnits(t('logbook.setAside'), detail),
  revision: (detail) =>
    text(detail.waits) === ''
      ? t('logbook.handedRevisionWhichCounts', { number: text(detail.number) })
      : t('logbook.handedRevisionWhichWaits', { number: text(detail.number) }),
  'revision decided': (detail) => t('logbook.decidedRevisionCounts', { number: text(detail.number) }),
  'bundle read in': (detail) =>
    t('logbook.readFileInterviews', { device: text(detail.device), interviews: text(detail.interviews) }),
  released: (detail) => t('logbook.releasedRelease', { title: text(detail.title), number: text(detail.number) }),
  'study made': () => t('logbook.studyMade'),
  'study facts changed': () => t('logbook.factsChanged'),
  'questionnaire made': (detail) => t('logbook.questionnaireMade', { title: text(detail.title) }),
  'person added': (detail) =>
    t('logbook.personAdded', {
      person: text(detail.person),
      roles: (detail.roles as string[]).map(roleWords).join(', '),
    }),
  'roles changed': (detail) =>
    t('logbook.rolesChanged', {
      person: text(detail.person),
      roles: (detail.after as string[]).map(roleWords).join(', '),
    }),
  'person left': (detail) => t('logbook.personLeft', { person: text(detail.person) }),
  invited: (detail) => t('logbook.invited', { person: text(detail.person) }),
  'people brought in': (detail) => t('logbook.peopleBroughtIn', { people: text(detail.people) }),
  'manager named': (detail) => t('logbook.managerNamed', { person: text(detail.person) }),
  'handed over': (detail) =>
    t('logbook.handedOver', { from: text(detail.person), to: text(detail.to), interviews: text(detail.interviews) }),
  'device paired': (detail) => t('logbook.paired', { device: text(detail.device) }),
  'device cut off': (detail) => t('logbook.cutOff', { device: text(detail.device) }),
  'device replaced': (detail) => t('logbook.replaced', { device: text(detail.device), by: text(detail.by) }),
  'device wiped': (detail) => t('logbook.wiped', { device: text(detail.device) }),
  'wipe ordered': (detail) => t('logbook.wipeOrdered', { device: text(detail.device) }),
  'asked to be let in': (detail) => t('logbook.askedToBeLetIn', { device: text(detail.device) }),
  'let in': (detail) => t('logbook.letIn', { device: text(detail.device) }),
  'profile changed': (detail) => t('logbook.profileChanged', { profile: text(detail.profile) }),
  'profile removed': (detail) => t('logbook.profileRemoved', { profile: text(detail.profile) }),
  'batch made': (detail) => t('logbook.batchMade', { batch: text(detail.batch), papers: text(detail.papers) }),
  'batch signed': (detail) => t('logbook.batchSigned', { batch: text(detail.batch), by: text(detail.by) }),
  'paper dropped': (detail) => t('logbook.paperDropped', { batch: text(detail.batch), number: text(detail.number) }),
  'link made': (detail) => t('logbook.linkMade', { link: text(detail.link) }),
  'link changed': (detail) => t('logbook.linkChanged', { link: text(detail.link) }),
  'link closed': (detail) => t('logbook.linkClosed', { link: text(detail.link) }),
  'link opened again': (detail) => t('logbook.linkOpenedAgain', { link: text(detail.link) }),
  'addressees brought in': (detail) =>
    t('logbook.addresseesBroughtIn', { people: text(detail.people), link: text(detail.link) }),
  'device given back': (detail) => t('logbook.gaveBack', { device: text(detail.device) }),
  'cleaning step kept': (detail) =>
    t('logbook.keptCleaningStep', {
      kind: text(detail.kind).replace('_', ' '),
      variable: text(detail.variable),
    }),
  'cleaning step taken out': (detail) => t('logbook.tookBackCleaningStep', { variable: text(detail.variable) }),
  'cleaning step taken back': (detail) => t('logbook.tookBackCleaningStep', { variable: text(detail.variable) }),
  'cleaning step changed': (detail) =>
    t('logbook.changedCleaningStep', { kind: text(detail.kind), variable: text(detail.variable) }),
  'cleaning step moved': (detail) => t('logbook.movedCleaningStep', { variable: text(detail.variable) }),
  'cleaning step switched off': (detail) =>
    t('logbook.switchedCleaningStepOff', { kind: text(detail.kind), variable: text(detail.variable) }),
  'cleaning step switched on': (detail) =>
    t('logbook.switchedCleaningStepOn', { kind: text(detail.kind), variable: text(detail.variable) }),
  'cleaning step put back': (detail) =>
    t('logbook.switchedCleaningStepOn', { kind: text(detail.kind), variable: text(detail.variable) }),
  'cleaning step remarked': (detail) => t('logbook.remarkedCleaningStep', { variable: text(detail.variable) }),
  'cleaning undone': () => t('logbook.undidCleaning'),
  'cleaning done again': () => t('logbook.didCleaningAgain'),
  'outside table brought in': (detail) =>
    t('logbook.broughtRows', { name: text(detail.name), rows: text(detail.rows) }),
  'visits made': (detail) => t('logbook.visitsMade', { name: text(detail.name), visits: text(detail.visits) }),
  'visits given': (detail) => t('logbook.visitsGiven', { name: text(detail.name), visits: text(detail.visits) }),
  'visits closed': (detail) => t('logbook.visitsClosed', { name: text(detail.name) }),
  'visits opened again': (detail) => t('logbook.visitsOpenedAgain', { name: text(detail.name) }),
  'visits removed': (detail) => t('logbook.visitsRemoved', { name: text(detail.name) }),
  'reserves taken': (detail) => t('logbook.reservesTaken', { name: text(detail.name), visits: text(detail.visits) }),
  'attempt entered': (detail) =>
    t('logbook.attemptEntered', { unit: text(detail.unit), outcome: text(detail.outcome), by: text(detail.by) }),
  'attempt without visit': (detail) => t('logbook.attemptWithoutVisit', { outcome: text(detail.outcome) }),
  'sample drawn': (detail) => t('logbook.sampleDrawn', { name: text(detail.name), drawn: text(detail.drawn) }),
  'sample removed': (detail) => t('logbook.sampleRemoved', { name: text(detail.name), seed: text(detail.seed) }),
  'units brought in': (detail) =>
    t('logbook.unitsBroughtIn', { file: text(detail.file), made: text(detail.made), changed: text(detail.changed) }),
  'change of unit decided': (detail) => t('logbook.changeDecided', { number: text(detail.change) }),
  'branch given to phones': () => t('logbook.branchGiven'),
  'kind of unit made': (detail) => t('logbook.kindMade', { title: text(detail.title) }),
  'kind of unit removed': (detail) => t('logbook.kindRemoved', { title: text(detail.title) }),
  'media brought in': (detail) => t('logbook.mediaBroughtIn', { name: text(detail.name) }),
  'media replaced': (detail) => t('logbook.mediaReplaced', { name: text(detail.name) }),
  'media removed': (detail) => t('logbook.mediaRemoved', { name: text(detail.name) }),
  'standard changed': () => t('logbook.standardChanged'),
  'release withdrawn': (detail) =>
    t('logbook.releaseWithdrawn', { title: text(detail.title), number: text(detail.number) }),
  'release given out again': (detail) =>
    t('logbook.releaseGivenOut', { title: text(detail.title), number: text(detail.number) }),
  'table joined': (detail) => t('logbook.joinedInterviews', { name: text(detail.name) }),
  'join undone': (detail) => t('logbook.undidJoin', { name: text(detail.name) }),
  'table saved': (detail) => t('logbook.savedTable', { title: text(detail.title) }),
  'extract ordered': (detail) => t('logbook.tookOutExtract', { format: text(detail.format) }),
};

export const toldOf = (kind: string, detail: Detail): string => TOLD[kind]?.(detail) ?? kind;
