out vec4 o; uniform sampler2D nz;
uniform vec3 skin,hair,shirt,trousers,shoes,cam; uniform float key,amb,stripes;
void main(){ if(hidden()) discard; float part=pr.x; vec3 c; vec3 N=normalize(n); float spec=.06, wrap=.15;
  vec3 q=rest*(part<.5?vec3(30):part<1.5?vec3(9,4,9):vec3(110,14,110)); vec4 ns=texture(nz,q.xy*.0625+q.z*vec2(.037,.051));
  vec3 cloth = low ? trousers : shirt;
  if(!low && stripes>0. && fract(rest.y*14.)<.5) cloth=mix(cloth,vec3(.95),stripes);
  if(low && rest.y>body.x-.03) cloth*=.75;
  if(part<.7){ c=skin; spec=.10; wrap=.3;
    if(clothed){ c=cloth; spec=.02; }
    else if(low && rest.y<body.z && fit.z<.5){ c = rest.y<.018 ? shoes*.45 : shoes; spec=.15; }
    else if(rest.y>mouth.y-.12){
      vec3 e=vec3(abs(rest.x),rest.yz)-eyeL; vec2 k=vec2(abs(rest.x)-.042,rest.y-mouth.y-.035);
      c*=1.04-.10*ns.x;
      c=mix(c,c*vec3(1.06,.84,.82),.45*exp(-dot(k,k)/.0006)*step(.06,rest.z));
      if(fit.w>.5 && rest.z>.04){
        float brow=abs(e.y-.0205+(e.x-.003)*(e.x-.003)*12.)-.0030*(1.-smoothstep(-.012,.024,e.x)*.6); if(brow<0. && e.x>-.019 && e.x<.025) c=mix(c,hair,.8);
        if(e.x*e.x/.00036+e.y*e.y/.00006<1.) c*=.82;
        c=mix(c,c*vec3(.82,.45,.46),clamp(part*2.,0.,1.)); } } }
  else if(part<1.5){ c=cloth; spec=.02; N=normalize(N+(ns.xyz-.5)*.22); c*=.97+.06*ns.w; }
  else if(part<2.5){ c=trousers; spec=.02; }
  else if(part>4.5){ c=hair*(.75+.6*ns.x); spec=.10; }
  else if(fit.w<.5) c=skin;
  else { float r=length(vec2(abs(rest.x),rest.y)-eyeL.xy); c=r<.0027?vec3(.02):r<.0062?vec3(.23,.13,.07):vec3(.86,.84,.82); spec=.3; }
  vec3 V=normalize(cam-w); if(dot(N,V)<0.) N=-N;
  o=vec4(sqrt(clamp(shade(c,N,V,shadow(N),wrap,spec,key,amb),0.,1.)),1); }
