/** The sound card: its number of channels, and which device is used, if the browser lets one choose. */
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

/** `apart`: outputs leave by separate channels, if the sound card has more than two. */
export const useSoundCard = create<{ apart: boolean; device: string; devices: Device[]; channels: number }>(() => ({
  apart: !wereTogether(),
  device: '',
  devices: [],
  channels: 2,
}));

type Choosing = AudioContext & { setSinkId?: (id: string) => Promise<void> };

/** Whether this browser can play on a chosen device. */
export const canChoose = () => 'setSinkId' in AudioContext.prototype;

/** The devices to play on; their names are known only with the browser's permission. */
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

/** Applies the chosen settings to every new player. */
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

/** Send outputs to separate channels, or all to the stereo mix; the choice is stored. */
export function chooseApart(apart: boolean) {
  try {
    if (apart) localStorage.removeItem(TOGETHER);
    else localStorage.setItem(TOGETHER, '1');
  } catch {
    // A browser that stores nothing starts with the default.
  }
  leaveApart(apart);
}

function leaveApart(apart: boolean) {
  const player = useKit.getState().player;
  useSoundCard.setState({ apart, channels: player?.channelsThere ?? 2 });
  player?.leaveBy(apart ? player.channelsThere : 2);
}
