out vec4 o; uniform sampler2D wood; uniform vec3 wall,floor_,cam; uniform float key,amb,bg;
void main(){ vec3 c; float spec=0.;
  if(pr.x<6.5){ c=floor_; spec=.05; if(bg>.5) c*=texture(wood,w.xz/vec2(2.24,4.48)).r*1.25; }
  else { c=wall; if(bg>.5) c=w.y<.11?vec3(.86):w.y<.125?c*.7:c*(.9+.08*w.y); }
  vec3 col=shade(c,n,normalize(cam-w),shadow(n),.15,spec,key,amb);
  float r=length(w.xz*vec2(.55,.7)); col*=mix(1.06,.62,smoothstep(.5,4.,r+max(w.y-1.5,0.)*.4));
  o=vec4(sqrt(clamp(col,0.,1.)),1); }
