uniform sampler2DShadow sm; uniform vec3 L; uniform float sh;
float shadow(vec3 N){ vec3 q=ls.xyz*.5+.5; q.z-=.0022+.004*(1.-max(dot(N,L),0.)); vec2 d=vec2(.8,.3)/1024.;
  float s=texture(sm,vec3(q.xy+d,q.z))+texture(sm,vec3(q.xy-d,q.z));
  vec2 e=abs(q.xy-.5); return (max(e.x,e.y)>.495) ? 1. : mix(1.,s*.5,sh); }
vec3 shade(vec3 c,vec3 N,vec3 V,float s,float wrap,float spec,float key,float amb){
  float d=max((dot(N,L)+wrap)/(1.+wrap),0.)*mix(1.,s,step(-.2,dot(N,L)));
  float f=max(dot(N,normalize(cross(L,vec3(0,1.3,0))+vec3(0,.35,0))),0.), hemi=.5+.5*N.y;
  vec3 col=c*c*(key*d*vec3(1.,.96,.9)*.5 + amb*mix(vec3(.34,.30,.27),vec3(.52,.55,.6),hemi) + .16*f);
  return col+spec*pow(max(dot(N,normalize(L+V)),0.),24.)*s*.5; }
