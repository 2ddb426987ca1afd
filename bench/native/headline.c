// The headline's work as a C programmer would write it for one machine: sixteen tracks side by side in the lanes of a
// vector, float32 throughout, everything in one loop over blocks. A yardstick for the bench and nothing else.
//   cc -O3 -march=native -ffast-math headline.c -lm -o headline && ./headline SECONDS   → prints × real time
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <time.h>

enum { TRACKS = 144, LANES = 16, GROUPS = TRACKS / LANES, BLOCK = 128, RATE = 48000, SENDS = 4, SUBMIXES = 12, LINES = 16, RING = 8192, PHASES = 16, TAPS = 32 };
typedef float lanes __attribute__((vector_size(LANES * 4)));
typedef int ilanes __attribute__((vector_size(LANES * 4)));

static float noise[1 << 18];
static struct { lanes b0[3], b1[3], b2[3], a1[3], a2[3], s1[3], s2[3], held; } group[GROUPS];
static lanes input[GROUPS][BLOCK], level[GROUPS][BLOCK], output[GROUPS][BLOCK];
static float submix[SUBMIXES][2][BLOCK], sends[SENDS][2][BLOCK], mainBus[2][BLOCK], history[2][BLOCK + TAPS], taps[PHASES][TAPS];
static float pan[TRACKS][2];
static struct { float ring[LINES][RING], low[LINES], high[LINES]; int at; } hall[SENDS];
static const int LENGTHS[LINES] = {1489, 1609, 1733, 1867, 2011, 2161, 2333, 2503, 2699, 2903, 3121, 3359, 3613, 3889, 4177, 4651};

/** log2 by the exponent and a polynomial, exp2 by Taylor's series: as good as the gain of a compressor needs. */
static inline lanes log2v(lanes x) {
  ilanes i = (ilanes)x, e = (i - 0x3F3504F3) >> 23;
  lanes m = (lanes)(i - (e << 23)), t = (m - 1) / (m + 1), u = t * t;
  return __builtin_convertvector(e, lanes) + t * 2.88539008f * (1 + u * (1.f / 3 + u * (1.f / 5 + u * (1.f / 7))));
}
static inline lanes exp2v(lanes x) {
  ilanes n = __builtin_convertvector(x + (lanes)((ilanes){} + 0x4B400000) - (lanes)((ilanes){} + 0x4B400000), ilanes);
  lanes f = (x - __builtin_convertvector(n, lanes)) * 0.693147181f;
  lanes s = 1 + f * (1 + f * (0.5f + f * (1.f / 6 + f * (1.f / 24 + f * (1.f / 120)))));
  return (lanes)((ilanes)s + (n << 23));
}

static inline lanes pick(ilanes which, lanes a, lanes b) { return (lanes)(((ilanes)a & which) | ((ilanes)b & ~which)); }

static void tracks(long frame) {
  const float attack = expf(-1000.f / (10 * RATE)), release = expf(-1000.f / (120 * RATE));
  for (int g = 0; g < GROUPS; g++) {
    for (int n = 0; n < BLOCK; n++) for (int l = 0; l < LANES; l++) input[g][n][l] = noise[(frame + n + (g * LANES + l) * 977) & ((1 << 18) - 1)];
    for (int n = 0; n < BLOCK; n++) {
      lanes x = input[g][n];
      for (int k = 0; k < 3; k++) {
        lanes y = group[g].b0[k] * x + group[g].s1[k];
        group[g].s1[k] = group[g].b1[k] * x + group[g].s2[k] - group[g].a1[k] * y;
        group[g].s2[k] = group[g].b2[k] * x - group[g].a2[k] * y;
        x = y;
      }
      output[g][n] = x;
    }
    // Each track's key is its neighbour's input.
    lanes held = group[g].held;
    for (int n = 0; n < BLOCK; n++) {
      lanes k = input[(g + GROUPS - 1) % GROUPS][n], over = 3.01029996f * log2v(k * k + 1e-20f) + 24;
      lanes knee = over + 3, in = pick(knee > 0, knee, (lanes){}), curve = pick(over > 3, over * (2.f / 3), in * in * (2.f / 3 / 12));
      lanes up = attack * held + (1 - attack) * curve, down = release * held + (1 - release) * curve;
      held = pick(curve > held, up, down);
      level[g][n] = held;
    }
    group[g].held = held;
    for (int n = 0; n < BLOCK; n++) output[g][n] *= exp2v(level[g][n] * -0.166096405f) * 0.25f;
  }
  memset(submix, 0, sizeof submix);
  memset(sends, 0, sizeof sends);
  static float leg[BLOCK];
  for (int t = 0; t < TRACKS; t++) {
    for (int n = 0; n < BLOCK; n++) leg[n] = output[t / LANES][n][t % LANES];
    for (int s = 0; s < 2; s++) {
      for (int n = 0; n < BLOCK; n++) submix[t % SUBMIXES][s][n] += pan[t][s] * leg[n];
      for (int r = 0; r < SENDS; r++) for (int n = 0; n < BLOCK; n++) sends[r][s][n] += 0.1f * pan[t][s] * leg[n];
    }
  }
}

static void halls(void) {
  for (int r = 0; r < SENDS; r++) for (int n = 0; n < BLOCK; n++) {
    float v[LINES], left = 0, right = 0;
    for (int k = 0; k < LINES; k++) v[k] = hall[r].ring[k][(hall[r].at - LENGTHS[k]) & (RING - 1)];
    for (int k = 0; k < LINES; k++) { hall[r].low[k] += 0.1f * (v[k] - hall[r].low[k]); hall[r].high[k] += 0.6f * (v[k] - hall[r].high[k]); v[k] = 0.8f * hall[r].high[k] + 0.1f * hall[r].low[k]; }
    for (int k = 0; k < LINES; k++) { left += k & 1 ? v[k] : -v[k]; right += k & 2 ? v[k] : -v[k]; }
    for (int h = 1; h < LINES; h <<= 1) for (int k = 0; k < LINES; k++) if (!(k & h)) { float a = v[k], b = v[k | h]; v[k] = a + b; v[k | h] = a - b; }
    for (int k = 0; k < LINES; k++) hall[r].ring[k][hall[r].at & (RING - 1)] = 0.25f * v[k] + sends[r][k & 1][n];
    hall[r].at++;
    mainBus[0][n] += 0.3f * left;
    mainBus[1][n] += 0.3f * right;
  }
}

static float limiter(void) {
  static float gain = 1;
  float sum = 0;
  for (int n = 0; n < BLOCK; n++) {
    float top = 0;
    for (int s = 0; s < 2; s++) {
      const float *x = history[s] + n + 1;
      for (int p = 0; p < PHASES; p++) { float y = 0; for (int k = 0; k < TAPS; k++) y += taps[p][k] * x[k]; top = fmaxf(top, fabsf(y)); }
    }
    float asked = top > 0.89f ? 0.89f / top : 1;
    gain = asked < gain ? asked : 0.9997f * gain + 0.0003f * asked;
    for (int s = 0; s < 2; s++) sum += fabsf(history[s][n + 16] * gain);
  }
  return sum;
}

int main(int argc, char **argv) {
  long frames = (argc > 1 ? atol(argv[1]) : 10) * RATE;
  unsigned state = 1;
  for (int i = 0; i < 1 << 18; i++) { state ^= state << 13; state ^= state >> 17; state ^= state << 5; noise[i] = 0.2f * (state / 2147483648.f - 1); }
  for (int p = 0; p < PHASES; p++) for (int k = 0; k < TAPS; k++) { float x = k - 15 - p / 16.f; taps[p][k] = x == 0 ? 1 : sinf((float)M_PI * x) / ((float)M_PI * x) * (0.5f + 0.5f * cosf((float)M_PI * x / 17)); }
  for (int t = 0; t < TRACKS; t++) { float p = (t % 9) / 4.f - 1; pan[t][0] = cosf((float)M_PI / 4 * (1 + p)); pan[t][1] = sinf((float)M_PI / 4 * (1 + p)); }
  const float b[3][5] = {{0.995f, -1.97f, 0.977f, -1.97f, 0.972f}, {1.01f, -1.85f, 0.86f, -1.85f, 0.87f}, {1.1f, -0.9f, 0.35f, -0.7f, 0.25f}};
  for (int g = 0; g < GROUPS; g++) for (int k = 0; k < 3; k++) { group[g].b0[k] += b[k][0]; group[g].b1[k] += b[k][1]; group[g].b2[k] += b[k][2]; group[g].a1[k] += b[k][3]; group[g].a2[k] += b[k][4]; }
  struct timespec begin, end;
  clock_gettime(CLOCK_MONOTONIC, &begin);
  float sum = 0;
  for (long f = 0; f < frames; f += BLOCK) {
    tracks(f);
    memset(mainBus, 0, sizeof mainBus);
    for (int m = 0; m < SUBMIXES; m++) for (int s = 0; s < 2; s++) for (int n = 0; n < BLOCK; n++) mainBus[s][n] += submix[m][s][n];
    halls();
    for (int s = 0; s < 2; s++) { memmove(history[s], history[s] + BLOCK, TAPS * 4); memcpy(history[s] + TAPS, mainBus[s], BLOCK * 4); }
    sum += limiter();
  }
  clock_gettime(CLOCK_MONOTONIC, &end);
  printf("%.3f %g\n", frames / (double)RATE / (end.tv_sec - begin.tv_sec + (end.tv_nsec - begin.tv_nsec) / 1e9), sum);
  return 0;
}
