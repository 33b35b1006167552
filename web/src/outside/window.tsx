/** The view out of the window in three dimensions, drawn once for all pictures of it: a picture asks for a look, and gets
 * it copied. A browser gives few drawing contexts of this kind, and a page may hold twenty pictures. */
import { createRoot, extend, type ReconcilerRoot } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import {
  BackSide,
  DoubleSide,
  Mesh,
  PerspectiveCamera,
  PlaneGeometry,
  ShaderMaterial,
  SphereGeometry,
  Vector2,
  Vector3,
  WebGLRenderer,
} from "three";
import { SOMEWHERE, type Eye, type Scenery } from "./scenery";
import { along, cloud, ground, sky } from "./shaders";
import { sunAt } from "./sun";

extend({ Mesh, PlaneGeometry, ShaderMaterial, SphereGeometry });

const RAD = Math.PI / 180,
  NM_FT = 6076;
/** The edge of what is drawn, ft. */ const EDGE = 500_000;
/** Of the picture's height, degrees: as the simple picture has it. */ const UPRIGHT = 63;
/** The largest picture, dots. */ const LARGEST = { width: 1040, height: 700 };
/** From that height on the sun is a day's, and below the other it is night. */ const DAY_DEG = 8,
  NIGHT_DEG = -6;

/** What the three parts are told: the same objects for as long as the page lives. */
const told = {
  sun: { value: new Vector3(0.4, 0.6, -0.4).normalize() },
  daylight: { value: 1 },
  haze: { value: 60_000 },
  line: { value: new Vector2(0, 1) },
  hasLine: { value: 0 },
  seaward: { value: new Vector2(1, 0) },
  hasSea: { value: 0 },
  seaWidth: { value: 0 },
};

/** One part of the world with its own shader; all are told the same. */
function Drawn({ shader, side, clear = false }: { shader: string; side?: typeof BackSide; clear?: boolean }) {
  const material = useMemo(
    () =>
      new ShaderMaterial({
        vertexShader: along,
        fragmentShader: shader,
        uniforms: told,
        transparent: clear,
        depthTest: false,
        depthWrite: false,
        side: side ?? DoubleSide,
      }),
    [shader, side, clear],
  );
  return <primitive object={material} attach="material" />;
}

/** Sky, ground and cloud, each on the one before. */
function World({ begun }: { begun: () => void }) {
  useEffect(begun, [begun]);
  return (
    <>
      <mesh name="sky" renderOrder={0} frustumCulled={false}>
        <sphereGeometry args={[EDGE, 24, 16]} />
        <Drawn shader={sky} side={BackSide} />
      </mesh>
      <mesh name="cloud" renderOrder={2} rotation-x={-Math.PI / 2} frustumCulled={false}>
        <planeGeometry args={[EDGE, EDGE]} />
        <Drawn shader={cloud} clear />
      </mesh>
      <mesh name="ground" renderOrder={1} rotation-x={-Math.PI / 2} frustumCulled={false}>
        <planeGeometry args={[2 * EDGE, 2 * EDGE]} />
        <Drawn shader={ground} />
      </mesh>
    </>
  );
}

export type Look = (eye: Eye, scenery: Scenery, onto: HTMLCanvasElement) => boolean;

/** Looks that are tried; in the middle one takes no longer than this, or the simple picture is the better one. */
const TRIED = 3,
  SLOWEST_MS = 100;

/** How long a look takes, ms: of the middle of a few, the first not counted, which makes the shaders. What was drawn is
 * asked for, for else it is drawn later. */
function takes(look: Look): number {
  const onto = document.createElement("canvas");
  onto.width = 400;
  onto.height = 264;
  const on = onto.getContext("2d", { willReadFrequently: true });
  const eye = { pitch: -10, bank: 20, heading: 0, height: 4000, east: 0, north: 0 };
  const times = Array.from({ length: TRIED + 1 }, () => {
    const began = performance.now();
    look(eye, SOMEWHERE, onto);
    on?.getImageData(0, 0, 1, 1);
    return performance.now() - began;
  });
  return times.slice(1).sort((a, b) => a - b)[TRIED >> 1] ?? 0;
}

/** Begins the drawing. Fails where the browser draws nothing of the kind, or too slowly. */
export async function openWindow(): Promise<Look> {
  const canvas = document.createElement("canvas");
  // Asked for by us: where there is none it is no error, there is the simple picture.
  const context = canvas.getContext("webgl2", { antialias: true, alpha: false });
  if (!context) throw new Error("The browser draws nothing in three dimensions here");
  const gl = new WebGLRenderer({ canvas, context });
  let gone = false;
  canvas.addEventListener("webglcontextlost", () => {
    gone = true;
  });
  const root: ReconcilerRoot<HTMLCanvasElement> = createRoot(canvas);
  await root.configure({
    gl,
    frameloop: "never",
    flat: true,
    linear: true,
    dpr: 1,
    size: { ...LARGEST, top: 0, left: 0 },
    camera: { fov: UPRIGHT, near: 1, far: 2 * EDGE },
  });
  let begun = () => {};
  const beginning = new Promise<void>((then) => {
    begun = then;
  });
  const store = root.render(<World begun={begun} />);
  await beginning;
  const { scene, camera } = store.getState();
  if (!(camera instanceof PerspectiveCamera)) throw new Error("The camera is another");
  const look: Look = (eye, scenery, onto) => {
    if (gone) return false;
    const width = Math.min(onto.width, LARGEST.width),
      height = Math.min(onto.height, LARGEST.height);
    tell(scenery);
    const over = Math.max(30, eye.height - scenery.groundFt);
    camera.position.set(eye.east, over, -eye.north);
    camera.rotation.set(eye.pitch * RAD, -eye.heading * RAD, -eye.bank * RAD, "YXZ");
    camera.aspect = width / height;
    camera.updateProjectionMatrix();
    for (const part of scene.children) {
      if (part.name === "cloud") {
        part.visible = scenery.cloudBaseFt !== null;
        part.position.set(eye.east, (scenery.cloudBaseFt ?? 0) - scenery.groundFt, -eye.north);
      } else part.position.set(eye.east, part.name === "sky" ? over : 0, -eye.north);
    }
    gl.setViewport(0, 0, width, height);
    gl.render(scene, camera);
    onto
      .getContext("2d")
      ?.drawImage(canvas, 0, LARGEST.height - height, width, height, 0, 0, onto.width, onto.height);
    return true;
  };
  const ms = takes(look);
  if (ms > SLOWEST_MS) throw new Error(`A look takes ${Math.round(ms)} ms here`);
  return look;
}

function tell(scenery: Scenery) {
  const { line, sea, sun } = scenery;
  told.haze.value = scenery.visibilityNm * NM_FT * 0.55;
  told.hasLine.value = line === null ? 0 : 1;
  if (line !== null) told.line.value.set(Math.sin(line * RAD), Math.cos(line * RAD));
  told.hasSea.value = sea === null ? 0 : 1;
  if (sea !== null) told.seaward.value.set(Math.sin(sea * RAD), Math.cos(sea * RAD));
  told.seaWidth.value = (scenery.seaWidthNm ?? 0) * NM_FT;
  const { azimuth, altitude } = sun ? sunAt(sun) : { azimuth: 140, altitude: 38 };
  const up = altitude * RAD,
    from = azimuth * RAD;
  told.sun.value.set(Math.sin(from) * Math.cos(up), Math.sin(up), -Math.cos(from) * Math.cos(up));
  told.daylight.value = Math.min(1, Math.max(0, (altitude - NIGHT_DEG) / (DAY_DEG - NIGHT_DEG)));
}
