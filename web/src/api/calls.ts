/** Typed calls to the studio. Every error is a sentence the user can read. */
import type { components, paths } from './schema';

type Schemas = components['schemas'];
/** What the studio responds with: every field is present, although requests may leave out fields with defaults. */
type Whole<T> = T extends readonly (infer U)[]
  ? Whole<U>[]
  : T extends object
    ? { [K in keyof T]-?: Whole<Exclude<T[K], undefined>> }
    : T;
export type KitState = Whole<Schemas['KitState']>;
export type KitCard = Whole<Schemas['KitCard']>;
export type Piece = Whole<Schemas['PieceShown']>;
export type Articulation = Whole<Schemas['ArticulationShown']>;
export type Layer = Whole<Schemas['LayerShown']>;
export type Mic = Whole<Schemas['Mic']>;
export type TrimShown = Schemas['TrimShown'];
export type Take = Whole<Schemas['TakeShown']>;
export type Channel = Whole<Schemas['ChannelShown']>;
export type InForce = Whole<Schemas['InForce']>;
export type NoteShown = Whole<Schemas['NoteShown']>;
export type Stems = Schemas['StemsAsked'];
export type Rules = Whole<Schemas['Rules']>;
export type Figure = Whole<Schemas['Figure']>;
export type FigureAsked = Schemas['FigureAsked']['of'];
export type Space = NonNullable<Channel['space']>;
export type SpaceShown = Whole<Schemas['SpaceShown']>;
export type MomentShown = Whole<Schemas['MomentShown']>;
export type AsItWas = Schemas['AsItWas'];
export type Line = Whole<Schemas['Line']>;
export type Stretch = Whole<Schemas['Stretch']>;
export type Curve = Whole<Schemas['Curve']>;
export type Edit = Schemas['EditAsked']['edit'];
/** Some fields of an edit of one kind. */
export type Change<Kind extends Edit['kind']> = Partial<Omit<Extract<Edit, { kind: Kind }>, 'kind'>>;
export type Variation = Whole<Schemas['Variation']>;
/** A fix is sent back exactly as it was received. */
export type Finding = Omit<Whole<Schemas['Finding']>, 'fixes'> & { fixes: { label: string; edit: Edit }[] };
export type Placed = Whole<Schemas['Placed']>;
export type CrossTalk = Whole<Schemas['CrossTalk']>;
export type Pad = Whole<Schemas['Pad']>;
export type Message = Whole<Schemas['Message']>;
export type Lesson = Whole<Schemas['Lesson']>;
export type Taught = Whole<Schemas['Taught']>;
export type TeachingHeard = Whole<Schemas['TeachingHeard']>;
/** Saved items, by kind. */
interface Shelves {
  maps: [Whole<Schemas['Card_SavedMap_']>, Schemas['SavedMap']];
  curves: [Whole<Schemas['Card_Curve_']>, Schemas['Curve']];
  readings: [Whole<Schemas['Card_SavedReading_']>, Schemas['SavedReading']];
  treatments: [Whole<Schemas['Card_KeptTreatments_']>, Schemas['KeptTreatments']];
  spaces: [Whole<Schemas['Card_KeptSpace_']>, Schemas['KeptSpace']];
  plans: [
    Omit<Whole<Schemas['Card_RoutingPlan_']>, 'value'> & { value: Schemas['RoutingPlan'] | null },
    Schemas['RoutingPlan'],
  ];
  hosts: [Omit<Whole<Schemas['Card_Host_']>, 'value'> & { value: Schemas['Host'] | null }, Schemas['Host']];
}
export type ShelfKind = keyof Shelves;
export type CardOf<K extends ShelfKind> = Shelves[K][0];
export type ValueOf<K extends ShelfKind> = Shelves[K][1];
export type MapCard = CardOf<'maps'>;
export type BringAsked = Schemas['BringAsked'];
export type BringShown = Whole<Schemas['BringShown']>;
export type SourceOf = Schemas['SourceOf'];
export type SeveralAsked = Schemas['SeveralAsked'];
export type SeveralShown = Whole<Schemas['SeveralShown']>;
export type OriginShown = Whole<Schemas['OriginShown']>;
export type Consequence = Whole<Schemas['Consequence']>;
export type Proposed = Whole<Schemas['Proposed']>;
export type OfferedPiece = Whole<Schemas['OfferedPiece']>;
export type MicComing = Whole<Schemas['MicComing']>;
export type Entry = Whole<Schemas['Entry']>;
export type TagCount = Whole<Schemas['TagCount']>;
export type Found = Whole<Schemas['Found']>;
export type KindCount = Whole<Schemas['KindCount']>;
export type Sort = Schemas['Sort'];
export type PreviewShown = Whole<Schemas['PreviewShown']>;
export type PreviewItem = Schemas['Item'];
export type Step = Whole<Schemas['Step']>;
export type DaySteps = Whole<Schemas['DaySteps']>;
export type MapKept = Whole<Schemas['MapKept']>;
export type Struck = Whole<Schemas['StrikeCount']>;
export type Fitted = Whole<Schemas['Fitted']>;
export type Learned = Whole<Schemas['LearnedPadRules']>;
export type ElectronicKit = Whole<Schemas['ElectronicKit']>;
export type Job = Whole<Schemas['JobShown']>;
export type Reading = Whole<Schemas['ReadingShown']>;
export type Rows = Whole<Schemas['Rows']>;
export type GuidancePreview = Whole<Schemas['GroupChange']>[];
export type Column = Whole<Schemas['Column']>;
export type Guidance = Whole<Schemas['Guidance']>;
export type SessionShown = Whole<Schemas['SessionShown']>;
export type RoomShown = Whole<Schemas['DiskShown']>;
export type Maintenance = Whole<Schemas['MaintenanceShown']>;
export type FilesKept = Whole<Schemas['FilesKept']>;
export type Groove = Whole<Schemas['GrooveShown']>;
export type GrooveEvent = Groove['events'][number];
export type RecordingShown = Whole<Schemas['RecordingShown']>;
/** Play tables leave out values equal to their defaults. */
export type PlayHead = Schemas['PlayHead'];
export type PlayPiece = Schemas['PlayPiece'];
export type PlayArticulation = Schemas['PlayArticulation'];
export type PlayTake = Schemas['PlayTake'];
export type PlaySound = Schemas['PlaySound'];
export type PlayChannel = Schemas['PlayChannel'];
export type PlayEq = Schemas['PlayEq'];
export type PlayCompressor = Schemas['PlayCompressor'];
export type PlayDrive = Schemas['PlayDrive'];
export type PlayInput = Schemas['PlayInput'];
export type PlayChoke = Schemas['PlayChoke'];

export class Refused extends Error {
  constructor(
    message: string,
    readonly status: number,
    readonly current: number | null = null,
    readonly occupied = false,
    /** How many files were stored before the error. */
    readonly kept = 0,
  ) {
    super(message);
  }
}

const away = () =>
  new Refused('The studio does not answer. Everything acknowledged is kept; start it again to go on.', 0);

async function answer<T>(response: Response): Promise<T> {
  if (response.status === 204) return undefined as T;
  const body = await response.json().catch(() => null);
  // A response that breaks off counts as no response.
  if (response.ok && body === null) throw away();
  if (response.ok) return body as T;
  const detail = typeof body?.detail === 'string' ? body.detail : 'The studio could not do that; try again.';
  throw new Refused(detail, response.status, body?.current ?? null, body?.occupied ?? false);
}

type Method = 'get' | 'post' | 'put' | 'delete';
type Asked<P extends keyof paths, M extends Method> = NonNullable<paths[P][M]>;
// biome-ignore lint/complexity/noBannedTypes: a path without parameters takes none
type Nothing = {};
type Part<Operation, Of extends 'path' | 'query'> = Operation extends { parameters: { [K in Of]?: infer Named } }
  ? [Named] extends [undefined]
    ? Nothing
    : NonNullable<Named>
  : Nothing;
/** The routes that exist for a method; others do not compile. */
type Address<M extends Method> = { [P in keyof paths]: paths[P][M] extends undefined ? never : P }[keyof paths];
/** The path and query parameters of a route, by name. */
type Where<P extends keyof paths, M extends Method> = Part<Asked<P, M>, 'path'> & Part<Asked<P, M>, 'query'>;
type Content<O, Kind extends string> = O extends { requestBody: { content: { [K in Kind]: infer Body } } }
  ? Body
  : never;
type Answer<P extends keyof paths, M extends Method> =
  Asked<P, M> extends { responses: { 200: { content: { 'application/json': infer Body } } } } ? Whole<Body> : undefined;
type Body<P extends keyof paths, M extends Method = 'post'> = Content<Asked<P, M>, 'application/json'>;
type FormAddress = {
  [P in Address<'post'>]: [Content<Asked<P, 'post'>, 'multipart/form-data'>] extends [never] ? never : P;
}[Address<'post'>];

/** The URL of a route: path parameters filled in, the others as a query. */
export function addressOf(path: string, where: object): string {
  const asked = new Map(Object.entries(where));
  const filled = path.replace(/\{(\w+)\}/g, (_, name: string) => {
    const value = asked.get(name) ?? '';
    asked.delete(name);
    return encodeURIComponent(String(value));
  });
  // A list repeats its name for each value.
  const pairs = [...asked].flatMap(([name, value]) => [value].flat().map((each) => [name, String(each)]));
  return pairs.length ? `${filled}?${new URLSearchParams(pairs)}` : filled;
}

/** This tab's name, so that undo takes back what was done here. A tab keeps it when it is loaded again. */
const TAB = (() => {
  try {
    const known = sessionStorage.getItem('tab') ?? crypto.randomUUID();
    sessionStorage.setItem('tab', known);
    return known;
  } catch {
    return '';
  }
})();

async function call<T>(path: string, where: object, init?: RequestInit): Promise<T> {
  let response: Response;
  try {
    response = await fetch(addressOf(path, where), { ...init, headers: { ...init?.headers, 'X-Tab': TAB } });
  } catch {
    throw away();
  }
  return answer<T>(response);
}

const JSON_TYPE = { 'Content-Type': 'application/json' };

/** What a simulated kit is asked to play. */
export type Plays = Omit<Where<'/api/electronic-kits/{kit_id}/plays', 'get'>, 'kit_id'>;

// A wrong path, a missing parameter or a wrong body does not compile.
export const get = <P extends Address<'get'>>(path: P, where: Where<P, 'get'>) => call<Answer<P, 'get'>>(path, where);
/** Routes without a body get none. */
export const post = <P extends Address<'post'>>(
  path: P,
  where: Where<P, 'post'>,
  ...[body]: [Body<P>] extends [never] ? [] : [body: Body<P>]
) => call<Answer<P, 'post'>>(path, where, { method: 'POST', headers: JSON_TYPE, body: JSON.stringify(body ?? {}) });
export const put = <P extends Address<'put'>>(path: P, where: Where<P, 'put'>, body: Body<P, 'put'>) =>
  call<Answer<P, 'put'>>(path, where, { method: 'PUT', headers: JSON_TYPE, body: JSON.stringify(body) });
export const remove = <P extends Address<'delete'>>(path: P, where: Where<P, 'delete'>) =>
  call<undefined>(path, where, { method: 'DELETE' });
export const postForm = <P extends FormAddress>(path: P, where: Where<P, 'post'>, body: FormData) =>
  call<Answer<P, 'post'>>(path, where, { method: 'POST', body });

/** The URL of several sounds in one response, as many of the first as fit; see `soundsIn`. */
export const soundsAddress = (sounds: readonly PlaySound[], rate: number) => {
  const asked = sounds.map(
    (s) => `of=${s.content},${s.width},${s.cents || ''},${s.centred ? 1 : ''},${s.flipped ?? ''}`,
  );
  return `/api/sounds/together/${rate}?${asked.join('&')}`;
};

/** The files in a response to `soundsAddress`; null for a sound that is not available. */
export function soundsIn(answer: ArrayBuffer): (ArrayBuffer | null)[] {
  const view = new DataView(answer);
  const files: (ArrayBuffer | null)[] = [];
  for (let at = 0; at + 4 <= answer.byteLength; ) {
    const length = view.getUint32(at);
    files.push(length ? answer.slice(at + 4, at + 4 + length) : null);
    at += 4 + length;
  }
  return files;
}
