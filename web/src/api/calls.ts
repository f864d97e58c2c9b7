/** Thin calls to the studio. Every error is a sentence the user can read. */
import type { components } from './schema';

type Schemas = components['schemas'];
export type KitState = Schemas['KitState'];
export type KitCard = Schemas['KitCard'];
export type Head = Schemas['HeadShown'];
export type Piece = Schemas['PieceShown'];
export type Articulation = Schemas['ArticulationShown'];
export type Layer = Schemas['LayerShown'];
export type Take = Schemas['TakeShown'];
export type Channel = Schemas['ChannelShown'];
export type Curve = Schemas['Curve'];
export type CurveNode = Schemas['Node'];
export type Edit = Schemas['EditAsked']['edit'];
export type Finding = Schemas['Finding'];
export type StandIns = Schemas['StandIns'];
export type ElectronicKit = Schemas['ElectronicKit'];
export type Job = Schemas['JobShown'];
export type Reading = Schemas['ReadingShown'];
export type TakeRow = Schemas['TakeRow'];
export type SessionShown = Schemas['SessionShown'];
export type FilesKept = Schemas['FilesKept'];
export type GrooveCard = Schemas['GrooveCard'];
export type Groove = Schemas['GrooveShown'];
export type GrooveEvent = Schemas['GrooveEvent'];
export type RecordingShown = Schemas['RecordingShown'];
export type PlayHead = Schemas['PlayHead'];
export type PlayPiece = Schemas['PlayPiece'];
export type PlayArticulation = Schemas['PlayArticulation'];
export type PlayLayer = Schemas['PlayLayer'];
export type PlayTake = Schemas['PlayTake'];
export type PlaySound = Schemas['PlaySound'];
export type PlayChannel = Schemas['PlayChannel'];

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

export const soundAddress = (sound: PlaySound, rate: number) => `/api/sounds/${sound.content}/${rate}/${sound.width}`;
