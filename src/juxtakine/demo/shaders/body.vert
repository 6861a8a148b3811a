#version 330
in vec3 pos; in vec3 nrm; in vec3 at_rest; in vec4 prm;   // prm: part (0 skin 1 tights 2 skirt 3,4 eyes 5 hair 6 floor 7 wall; +.5 lips), arm t, leg t, arm weight
uniform mat4 vp; uniform mat4 lvp;
out vec3 w; out vec3 n; out vec3 rest; out vec4 pr; out vec4 ls;
void main(){ w=pos; n=nrm; rest=at_rest; pr=prm; gl_Position=vp*vec4(pos,1); ls=lvp*vec4(pos,1); }
