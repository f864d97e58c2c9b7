/** The sound card that is listened on: how many channels it has, which one it is, where the browser lets one choose. */
import { useEffect } from 'react';
import { create } from 'zustand';
import { useKit } from '../kit/kitStore';

interface Device {
  id: string;
  name: string;
}

const TOGETHER = 'outputs-together';

function wereTogether(): boolean {
  try {
    return localStorage.getItem(TOGETHER) !== null;
  } catch {
    return false;
  }
}

/** `apart`: outputs leave by channels of their own, where the sound card has more than two. */
export const useSoundCard = create<{ apart: boolean; device: string; devices: Device[]; channels: number }>(() => ({
  apart: !wereTogether(),
  device: '',
  devices: [],
  channels: 2,
}));

type Choosing = AudioContext & { setSinkId?: (id: string) => Promise<void> };

/** Whether this browser can play on another device than the system's. */
export const canChoose = () => 'setSinkId' in AudioContext.prototype;

/** What there is to play on; names are only told where the browser was allowed to tell them. */
export async function lookForDevices() {
  const player = useKit.getState().player;
  if (player) useSoundCard.setState({ channels: player.channelsThere });
  if (!canChoose() || !navigator.mediaDevices) return;
  const all = await navigator.mediaDevices.enumerateDevices();
  const devices = all
    .filter(({ kind, deviceId }) => kind === 'audiooutput' && deviceId)
    .map(({ deviceId, label }, place) => ({ id: deviceId, name: label || `Device ${place + 1}` }));
  useSoundCard.setState({ devices });
}

/** Every new player leaves as it was chosen. */
export function useChosenLeaving() {
  const player = useKit((s) => s.player);
  useEffect(() => {
    if (player) leaveApart(useSoundCard.getState().apart);
  }, [player]);
}

export async function listenOn(device: string) {
  const player = useKit.getState().player;
  if (!player) return;
  try {
    await (player.context as Choosing).setSinkId?.(device);
    useSoundCard.setState({ device });
  } catch (error) {
    useKit
      .getState()
      .say(`The browser cannot use that device (${(error as Error).message}); the one before stays in use.`);
  }
  leaveApart(useSoundCard.getState().apart);
}

/** Let outputs leave by channels of their own, or all of them by what is heard; chosen, it is remembered. */
export function chooseApart(apart: boolean) {
  try {
    if (apart) localStorage.removeItem(TOGETHER);
    else localStorage.setItem(TOGETHER, '1');
  } catch {
    // A browser that keeps nothing begins as at first.
  }
  leaveApart(apart);
}

function leaveApart(apart: boolean) {
  const player = useKit.getState().player;
  useSoundCard.setState({ apart, channels: player?.channelsThere ?? 2 });
  player?.leaveBy(apart ? player.channelsThere : 2);
}
