#version 330
in vec3 pos; in vec3 nrm; in vec4 bi; in vec4 bw; in vec4 prm;   // prm: part (0 skin 1 tights 2 skirt 3,4 eyes 5 hair 6 floor 7 wall; +.5 lips), arm t, leg t, arm weight
uniform mat4 vp; uniform mat4 bones[36]; uniform mat4 lvp; uniform vec4 cut; uniform vec4 fit; uniform vec4 body; uniform vec3 mouth;
out vec3 w; out vec3 n; out vec3 rest; out vec4 pr; out vec4 ls;
void main(){ mat4 M = bones[int(bi.x)]*bw.x + bones[int(bi.y)]*bw.y + bones[int(bi.z)]*bw.z + bones[int(bi.w)]*bw.w;
  float part=prm.x, leg=smoothstep(.1,1.,prm.z); float infl=0.;
  bool arm=prm.w>.5, low=pos.y<body.x && !arm;
  float edge = arm ? cut.x-prm.y : (pos.y<body.x ? cut.y-prm.z : (body.y+min(max(0.,length(pos.xz-mouth.xz)-.075)*1.6,.04)-max(0.,pos.z-.02)*.35-pos.y)*4.); bool clothed=edge>0.;
  if(part<.6){ if(clothed) infl=-.006; else if(low && prm.z>1.9 && fit.z<.5) infl=.006; }
  else if(part<1.5) infl = mix(-.003, .002 + (low ? fit.x*leg*(.6+.4*prm.z) : fit.x*.5), low ? 1. : smoothstep(0.,.12,edge));
  vec3 p=pos+nrm*infl; vec4 q=M*vec4(p,1); w=q.xyz; n=mat3(M)*nrm; rest=pos; pr=prm; gl_Position=vp*q; ls=lvp*q; }
