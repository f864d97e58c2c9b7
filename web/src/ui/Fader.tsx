/** A level from −60 to +12 dB on a fader's track; a double click resets it to 0 dB. */
import { Slider, type SliderProps } from './Slider';

const FLOOR_DB = -60;
const TOP_DB = 12;
/** The fader's scale: the upper range takes most of the track. */
export const law = {
  to: (db: number) => ((Math.max(FLOOR_DB, db) - FLOOR_DB) / (TOP_DB - FLOOR_DB)) ** 2,
  from: (place: number) => FLOOR_DB + Math.sqrt(place) * (TOP_DB - FLOOR_DB),
};

type FaderProps = Pick<SliderProps, 'label' | 'name' | 'value' | 'show' | 'onChange' | 'onTurn' | 'late' | 'meter'>;

export function Fader(props: FaderProps) {
  return <Slider {...props} min={FLOOR_DB} max={TOP_DB} step={0.1} page={3} reset={0} place={law} />;
}
