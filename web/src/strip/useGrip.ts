import { useCallback, useEffect, useRef } from "react";
import { heightAt, placeAmong, type Heights, type Slot } from "./layout";

/** Pixels along the strip from which on a figure changes its place, no longer its height. */
const ALONG = 34;

export interface OnNotch {
  onSelect?: (id: string) => void;
  /** Called while a notch is moved; the same `gesture` for one movement, so that it is one step to undo. */
  onStart?: (id: string, feet: number, gesture: string) => void;
  /** Called when a figure is dragged along, or moved with the arrow keys: its new place, counted from 0. */
  onPlace?: (id: string, to: number, gesture: string) => void;
}
interface Grip {
  id: string;
  gesture: string;
  along: boolean;
  x: number;
  /** From the pointer to the notch. */
  y: number;
  startY: number;
  /** Everything as it lay when it was taken: slots, the order of the plan, the left of the picture. */
  slots: Slot[];
  order: string[];
  left: number;
  place: number;
}
export type Take = (id: string, startY: number, e: React.PointerEvent<SVGElement>) => void;

/** A figure held by the pointer: up and down it changes its height, along its place among the others.
 *
 * The whole strip holds the pointer, for the mark itself is taken out and put in again as its place changes; and places
 * are counted on the strip as it was when the figure was taken, whatever is computed and drawn meanwhile. */
export function useGrip(places: Slot[], order: string[], up: Heights, on: OnNotch) {
  const held = useRef<Grip | null>(null);
  const now = useRef({ places, order, on });
  useEffect(() => {
    now.current = { places, order, on };
  });
  const take: Take = useCallback((id, startY, e) => {
    const strip = e.currentTarget.ownerSVGElement;
    if (!strip) return;
    const { places, order, on } = now.current;
    on.onSelect?.(id);
    strip.setPointerCapture(e.pointerId);
    held.current = {
      id,
      gesture: `held ${id} ${e.timeStamp}`,
      along: false,
      x: e.clientX,
      y: e.clientY - startY,
      startY,
      slots: places,
      order,
      left: strip.getBoundingClientRect().left,
      place: order.indexOf(id),
    };
  }, []);
  const letGo = () => {
    held.current = null;
  };
  const holding = {
    onPointerMove: (e: React.PointerEvent) => {
      const grip = held.current;
      if (!grip) return;
      const [x, y] = [Math.abs(e.clientX - grip.x), Math.abs(e.clientY - grip.y - grip.startY)];
      // Once it has begun to change its place, it no longer changes its height.
      if (on.onPlace && x > ALONG && x > 2 * y) grip.along = true;
      if (!grip.along)
        return on.onStart?.(grip.id, heightAt(up.feet(e.clientY - grip.y), e.shiftKey), grip.gesture);
      const place = placeAmong(grip.id, e.clientX - grip.left, grip.slots, grip.order);
      if (place !== grip.place) on.onPlace?.(grip.id, place, grip.gesture);
      grip.place = place;
    },
    onPointerUp: letGo,
    onPointerCancel: letGo,
  };
  return { take, holding };
}
