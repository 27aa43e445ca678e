// GLSL 3.30 of the renderer.
#pragma once

namespace tack::shaders {

inline constexpr const char* kFacesVertex = R"(#version 330 core
layout(location = 0) in vec3 position;
layout(location = 1) in vec3 normal;
uniform mat4 to_clip;
uniform mat3 to_eye;
uniform mat3 to_world;
uniform vec2 shift;            // of the whole shape, in clip units
out vec3 eye_normal;
out vec3 world_normal;
void main() {
  eye_normal = to_eye * normal;
  world_normal = to_world * normal;
  gl_Position = to_clip * vec4(position, 1.0);
  gl_Position.xy += shift * gl_Position.w;
}
)";

inline constexpr const char* kFacesFragment = R"(#version 330 core
in vec3 eye_normal;
in vec3 world_normal;
uniform vec4 colour;
uniform float by_direction;    // 1: coloured by where the face points
uniform vec4 facing[6];        // +x, −x, +y, −y, +z, −z
uniform vec4 behind;           // seen from behind
uniform float hatch;           // pixels from one line of hatching to the next; 0: none
uniform float flat_colour;     // 1: the colour as it is
uniform float shade;
out vec4 result;
void main() {
  vec3 n = normalize(eye_normal);
  if (!gl_FrontFacing) n = -n;
  // A soft key from the upper left, a fill from the right, light from above: matte, like painted wood under a lamp.
  float key = max(dot(n, normalize(vec3(-0.45, 0.75, 0.62))), 0.0);
  float fill = max(dot(n, normalize(vec3(0.8, 0.1, 0.5))), 0.0);
  float light = 0.66 + 0.32 * key + 0.12 * fill + 0.05 * n.y;
  vec3 own = colour.rgb;
  if (by_direction > 0.5) {
    vec3 w = normalize(world_normal), q = w * w;
    own = q.x * facing[w.x < 0.0 ? 1 : 0].rgb + q.y * facing[w.y < 0.0 ? 3 : 2].rgb + q.z * facing[w.z < 0.0 ? 5 : 4].rgb;
    if (!gl_FrontFacing && hatch > 0.0) own = mod(gl_FragCoord.x + gl_FragCoord.y, hatch) < hatch * 0.45 ? behind.rgb : vec3(0.93, 0.90, 0.86);
    light = mix(1.0, light, 0.35);
  }
  vec3 lit = own * mix(light * shade, 1.0, flat_colour);
  result = vec4(min(lit, vec3(1.0)), colour.a);
}
)";

// One quad for each line; both ends are cut to in front of the eye before they are widened on the screen.
inline constexpr const char* kLinesVertex = R"(#version 330 core
layout(location = 0) in vec3 start;
layout(location = 1) in vec3 end;
layout(location = 2) in vec4 line_colour;
uniform mat4 to_clip;
uniform vec2 half_viewport;
uniform float width;
uniform vec4 nearer;           // x: pixels by which lines stand before their faces, in mm for parallel views, as a share
                               // of the depth for perspective ones; y, z: the projection's depth row; w: 1 for perspective
uniform vec4 colour;
uniform float use_line_colour;
out vec4 tint;
out float across;
void main() {
  vec4 a = to_clip * vec4(start, 1.0);
  vec4 b = to_clip * vec4(end, 1.0);
  float na = a.z + a.w, nb = b.z + b.w;
  if (na < 0.0 && nb < 0.0) { gl_Position = vec4(2.0, 2.0, 2.0, 1.0); return; }
  if (na < 0.0) a = mix(a, b, na / (na - nb));
  else if (nb < 0.0) b = mix(b, a, nb / (nb - na));
  vec2 pa = a.xy / a.w * half_viewport, pb = b.xy / b.w * half_viewport;
  vec2 along = pb - pa;
  float len = length(along);
  along = len > 1e-5 ? along / len : vec2(1.0, 0.0);
  vec2 side = vec2(-along.y, along.x);
  float s = (gl_VertexID & 1) == 0 ? -1.0 : 1.0;
  vec4 p = gl_VertexID < 2 ? a : b;
  vec2 cap = along * (gl_VertexID < 2 ? -0.5 : 0.5) * min(width, 1.0);
  across = s * (width * 0.5 + 0.5);
  p.xy += (side * s * (width * 0.5 + 0.5) + cap) / half_viewport * p.w;
  float w = p.w * (1.0 - nearer.x);
  p.z = nearer.w > 0.5 ? (nearer.z - nearer.y * w) / w * p.w : p.z + nearer.y * nearer.x;
  gl_Position = p;
  tint = mix(colour, line_colour, use_line_colour);
}
)";

inline constexpr const char* kLinesFragment = R"(#version 330 core
in vec4 tint;
in float across;
uniform float width;
out vec4 result;
void main() {
  // The outer half pixel fades out: smooth lines without multisampling.
  float cover = clamp(width * 0.5 + 0.5 - abs(across), 0.0, 1.0);
  result = vec4(tint.rgb, tint.a * cover);
}
)";

inline constexpr const char* kBackgroundVertex = R"(#version 330 core
out float height;
void main() {
  vec2 p = vec2(gl_VertexID == 1 ? 3.0 : -1.0, gl_VertexID == 2 ? 3.0 : -1.0);
  height = p.y * 0.5 + 0.5;
  gl_Position = vec4(p, 1.0, 1.0);
}
)";

inline constexpr const char* kBackgroundFragment = R"(#version 330 core
in float height;
uniform vec4 top;
uniform vec4 bottom;
out vec4 result;
void main() { result = mix(bottom, top, clamp(height, 0.0, 1.0)); }
)";

}  // namespace tack::shaders
