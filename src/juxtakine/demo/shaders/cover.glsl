in vec3 w; in vec3 n; in vec3 rest; in vec4 pr; in vec4 ls; uniform vec4 cut,fit,body; uniform vec3 eyeL,mouth;
bool arm,low,clothed;
bool hidden(){ float part=pr.x; arm=pr.w>.5; low=rest.y<body.x && !arm;
  float vneck = body.y+min(max(0.,length(rest.xz-mouth.xz)-.075)*1.6,.04) - max(0.,rest.z-.02)*.35;
  clothed = arm ? pr.y<cut.x : (low ? pr.z<cut.y : rest.y<vneck);
  if(part>.9 && part<1.5) return !clothed;
  if(part>1.5 && part<2.5) return cut.z<.5 || rest.y>body.x+.03 || rest.y<cut.z;
  return false; }
