/** Reflection lines: bands on the skin that break where smoothness breaks. */
import { Color, DoubleSide, ShaderMaterial } from 'three'

export const stripes = (): ShaderMaterial =>
  new ShaderMaterial({
    side: DoubleSide,
    uniforms: { tint: { value: new Color() } },
    vertexShader:
      'varying vec3 n; varying vec3 e; void main(){ vec4 p = modelViewMatrix * vec4(position,1.0); n = normalize(normalMatrix * normal); e = normalize(p.xyz); gl_Position = projectionMatrix * p; }',
    fragmentShader:
      'uniform vec3 tint; varying vec3 n; varying vec3 e; void main(){ vec3 m = normalize(gl_FrontFacing ? n : -n); vec3 r = reflect(e, m); float s = smoothstep(0.42,0.58,abs(fract(r.y*9.0)-0.5)*2.0); gl_FragColor = vec4(mix(vec3(0.12,0.13,0.15), mix(tint, vec3(1.0), 0.55), s), 1.0); }',
  })
