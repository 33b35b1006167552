/** Sky, ground and cloud as a camera without depth of its own sees them: everything by direction and by place over the
 * ground, so that it is the same at every opening. Feet; x east, y up, z south. */

const SHARED = /* glsl */ `
  uniform vec3 sun;
  uniform float daylight, haze;
  const vec3 HORIZON = vec3(0.86, 0.91, 0.94), ZENITH = vec3(0.33, 0.55, 0.77);
  float hash(vec2 p) {
    vec3 q = fract(vec3(p.xyx) * 0.1031);
    q += dot(q, q.yzx + 33.33);
    return fract((q.x + q.y) * q.z);
  }
  float noise(vec2 p) {
    vec2 i = floor(p), f = fract(p);
    f = f * f * (3.0 - 2.0 * f);
    return mix(mix(hash(i), hash(i + vec2(1, 0)), f.x), mix(hash(i + vec2(0, 1)), hash(i + vec2(1, 1)), f.x), f.y);
  }
  vec3 lit(vec3 colour) {
    vec3 low = mix(colour, colour * vec3(1.1, 0.86, 0.68), smoothstep(0.35, 0.0, sun.y) * daylight);
    return low * mix(0.16, 1.0, daylight);
  }
`;

export const along = /* glsl */ `
  varying vec3 at;
  void main() {
    vec4 world = modelMatrix * vec4(position, 1.0);
    at = world.xyz;
    gl_Position = projectionMatrix * viewMatrix * world;
  }
`;

export const sky = /* glsl */ `
  varying vec3 at;
  ${SHARED}
  void main() {
    vec3 way = normalize(at - cameraPosition);
    vec3 colour = mix(HORIZON, ZENITH, pow(max(way.y, 0.0), 0.55));
    float near = max(dot(way, sun), 0.0);
    colour += vec3(1.0, 0.9, 0.7) * (0.3 * pow(near, 24.0) + smoothstep(0.99955, 0.9997, near));
    gl_FragColor = vec4(lit(colour), 1.0);
  }
`;

export const ground = /* glsl */ `
  varying vec3 at;
  uniform vec2 line, seaward;
  uniform float hasLine, hasSea, seaWidth;
  ${SHARED}
  const float LONG = 1250.0, WIDE = 760.0;
  /** 1 within half a width of nothing, blurred over what a dot of the picture covers. */
  float band(float from, float half_, float dot_) { return 1.0 - smoothstep(half_ - dot_, half_ + dot_, abs(from)); }
  vec3 fields(vec2 p, float dot_) {
    p += vec2(noise(p / 5200.0), noise(p / 5200.0 + 71.0)) * 1700.0;
    float row = floor(p.y / WIDE), shift = hash(vec2(row, 7.0)) * LONG;
    vec2 cell = vec2(floor((p.x + shift) / LONG), row);
    vec2 within = vec2(fract((p.x + shift) / LONG) * LONG, fract(p.y / WIDE) * WIDE);
    float kind = hash(cell), tone = 0.88 + 0.24 * hash(cell + 3.0);
    vec3 colour = kind < 0.34 ? vec3(0.45, 0.55, 0.31) : kind < 0.6 ? vec3(0.60, 0.63, 0.37)
      : kind < 0.78 ? vec3(0.76, 0.70, 0.45) : kind < 0.9 ? vec3(0.35, 0.44, 0.28) : vec3(0.56, 0.46, 0.35);
    float rows = kind > 0.34 && kind < 0.78 ? sin((within.y + within.x * 0.06) * 0.22) : 0.0;
    colour *= tone * (1.0 + 0.06 * rows * (1.0 - smoothstep(2.0, 9.0, dot_)));
    float hedge = min(min(within.x, LONG - within.x), min(within.y, WIDE - within.y));
    float drawn = band(hedge, 16.0, dot_) * (1.0 - smoothstep(60.0, 260.0, dot_));
    colour = mix(colour, vec3(0.24, 0.31, 0.20), 0.75 * drawn);
    return mix(colour, vec3(0.53, 0.56, 0.36), smoothstep(180.0, 900.0, dot_));
  }
  void main() {
    vec2 p = vec2(at.x, -at.z);
    vec3 way = at - cameraPosition;
    float away = length(way), dot_ = max(length(fwidth(p)), 0.01);
    vec3 colour = fields(p, dot_);
    if (hasLine > 0.5) {
      float off = dot(p, vec2(line.y, -line.x));
      float bend = (noise(vec2(dot(p, line) / 9000.0, 5.0)) - 0.5) * 500.0;
      colour = mix(colour, vec3(0.83, 0.81, 0.75), band(off + bend, 26.0, dot_ * 0.7) * (1.0 - hasSea));
    }
    if (hasSea > 0.5) {
      float out_ = dot(p, seaward), along_ = dot(p, vec2(seaward.y, -seaward.x));
      float shore = (noise(vec2(along_ / 5200.0, 1.0)) - 0.5) * 2600.0 + (noise(vec2(along_ / 1100.0, 9.0)) - 0.5) * 500.0;
      float other = (noise(vec2(along_ / 6100.0, 4.0)) - 0.5) * 3400.0 + (noise(vec2(along_ / 900.0, 2.0)) - 0.5) * 400.0;
      float wet = min(out_ - shore, seaWidth > 0.0 ? seaWidth + other - out_ : 1e6);
      float swell = noise(p / vec2(90.0, 260.0)) * (1.0 - smoothstep(30.0, 160.0, dot_));
      vec3 water = mix(vec3(0.27, 0.45, 0.52), vec3(0.16, 0.33, 0.43), smoothstep(0.0, 2600.0, wet)) * (0.93 + 0.14 * swell);
      vec3 back = reflect(way / away, vec3(0, 1, 0));
      water += vec3(0.55, 0.52, 0.42) * pow(max(dot(back, sun), 0.0), 40.0) * (0.6 + 0.6 * swell);
      water = mix(water, HORIZON, 0.5 * pow(1.0 - abs(way.y) / away, 5.0));
      colour = mix(colour, vec3(0.84, 0.79, 0.64), smoothstep(-110.0 - dot_, -60.0, wet));
      colour = mix(colour, water, smoothstep(-dot_ * 0.5, dot_ * 0.5 + 20.0, wet));
    }
    // Never all of it: the edge of the earth is what is looked at.
    float far = 0.78 * (1.0 - exp(-away / haze));
    gl_FragColor = vec4(lit(mix(colour, HORIZON * 0.94, far)), 1.0);
  }
`;

export const cloud = /* glsl */ `
  varying vec3 at;
  ${SHARED}
  void main() {
    vec2 p = at.xz;
    float away = length(at - cameraPosition);
    float heap = 0.55 * noise(p / 9000.0) + 0.3 * noise(p / 3100.0) + 0.15 * noise(p / 1100.0);
    float much = smoothstep(0.5, 0.68, heap);
    vec3 colour = mix(vec3(0.96), vec3(0.74, 0.78, 0.82), smoothstep(0.55, 0.8, heap));
    gl_FragColor = vec4(lit(mix(colour, HORIZON, 1.0 - exp(-away / haze))), much * exp(-away / 160000.0));
  }
`;
