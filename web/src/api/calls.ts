/** Thin calls to the studio. Every error is a sentence the user can read. */
import type { components } from './schema';

type Schemas = components['schemas'];
/** What the studio answers with: every field is there, though a sender may leave those with defaults out. */
type Whole<T> = T extends readonly (infer U)[]
  ? Whole<U>[]
  : T extends object
    ? { [K in keyof T]-?: Whole<Exclude<T[K], undefined>> }
    : T;
export type KitState = Whole<Schemas['KitState']>;
export type KitCard = Whole<Schemas['KitCard']>;
export type Head = Whole<Schemas['HeadShown']>;
export type Piece = Whole<Schemas['PieceShown']>;
export type Articulation = Whole<Schemas['ArticulationShown']>;
export type Layer = Whole<Schemas['LayerShown']>;
export type Mic = Whole<Schemas['Mic']>;
export type Take = Whole<Schemas['TakeShown']>;
export type Channel = Whole<Schemas['ChannelShown']>;
export type Curve = Whole<Schemas['Curve']>;
export type CurveNode = Whole<Schemas['Node']>;
export type Edit = Schemas['EditAsked']['edit'];
export type Variation = Whole<Schemas['Variation']>;
export type Finding = Whole<Schemas['Finding']>;
export type Placed = Whole<Schemas['Placed']>;
export type KnownInput = Whole<Schemas['Input']>;
export type CrossTalk = Whole<Schemas['CrossTalk']>;
export type Pad = Whole<Schemas['Pad']>;
export type Message = Whole<Schemas['Message']>;
export type Lessons = Whole<Schemas['Lessons']>;
export type Lesson = Whole<Schemas['Lesson']>;
export type Taught = Whole<Schemas['Taught']>;
export type TeachingHeard = Whole<Schemas['TeachingHeard']>;
export type MapCard = Whole<Schemas['MapCard']>;
export type SavedMap = Whole<Schemas['SavedMap']>;
export type MapKept = Whole<Schemas['MapKept']>;
export type MapComparison = Whole<Schemas['MapComparison']>;
export type CurveCard = Whole<Schemas['CurveCard']>;
export type Reached = Whole<Schemas['Reached']>;
export type Struck = Whole<Schemas['Struck']>;
export type Fitted = Whole<Schemas['Fitted']>;
export type Learned = Whole<Schemas['Learned']>;
export type StandIns = Whole<Schemas['StandIns']>;
export type ElectronicKit = Whole<Schemas['ElectronicKit']>;
export type Job = Whole<Schemas['JobShown']>;
export type Reading = Whole<Schemas['ReadingShown']>;
export type Rows = Whole<Schemas['Rows']>;
export type NameGroup = Whole<Schemas['NameGroup']>;
export type Column = Whole<Schemas['Column']>;
export type Guidance = Whole<Schemas['Guidance']>;
export type Inbox = Whole<Schemas['Inbox']>;
export type SessionShown = Whole<Schemas['SessionShown']>;
export type FilesKept = Whole<Schemas['FilesKept']>;
export type GrooveCard = Whole<Schemas['GrooveCard']>;
export type Groove = Whole<Schemas['GrooveShown']>;
export type GrooveEvent = Groove['events'][number];
export type RecordingShown = Whole<Schemas['RecordingShown']>;
/** Of the play table, what is as usual is left out on the way. */
export type PlayHead = Schemas['PlayHead'];
export type PlayPiece = Schemas['PlayPiece'];
export type PlayArticulation = Schemas['PlayArticulation'];
export type PlayLayer = Schemas['PlayLayer'];
export type PlayTake = Schemas['PlayTake'];
export type PlaySound = Schemas['PlaySound'];
export type PlayChannel = Schemas['PlayChannel'];
export type PlayEq = Schemas['PlayEq'];
export type PlayInput = Schemas['PlayInput'];
export type PlaySilence = Schemas['PlaySilence'];

export class Refused extends Error {
  constructor(
    message: string,
    readonly status: number,
    readonly current: number | null = null,
    readonly occupied = false,
    /** How many files were kept before this went wrong. */
    readonly kept = 0,
  ) {
    super(message);
  }
}

async function answer<T>(response: Response): Promise<T> {
  if (response.status === 204) return undefined as T;
  const body = await response.json().catch(() => null);
  if (response.ok) return body as T;
  const detail = typeof body?.detail === 'string' ? body.detail : 'The studio could not do that; try again.';
  throw new Refused(detail, response.status, body?.current ?? null, body?.occupied ?? false);
}

async function call<T>(path: string, init?: RequestInit): Promise<T> {
  let response: Response;
  try {
    response = await fetch(`/api${path}`, init);
  } catch {
    throw new Refused('The studio does not answer. Everything acknowledged is kept; start it again to go on.', 0);
  }
  return answer<T>(response);
}

export const get = <T>(path: string) => call<T>(path);
export const post = <T>(path: string, body: unknown = {}) =>
  call<T>(path, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) });
export const remove = (path: string) => call<void>(path, { method: 'DELETE' });

export const postForm = <T>(path: string, form: FormData) => call<T>(path, { method: 'POST', body: form });

export const soundAddress = (sound: PlaySound, rate: number) => {
  const treated = new URLSearchParams();
  if (sound.cents) treated.set('cents', String(sound.cents));
  if (sound.centred) treated.set('centred', 'true');
  return `/api/sounds/${sound.content}/${rate}/${sound.width}${treated.size ? `?${treated}` : ''}`;
};
