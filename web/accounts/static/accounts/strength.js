/* How hard a new password is to guess, as it is typed: a rough count of bits, in words and as a bar. The server decides. */
const LEAST = 12; // as the server's own rule
const SORTS = [[/[a-z]/, 26], [/[A-Z]/, 26], [/[0-9]/, 10], [/[^a-zA-Z0-9]/, 33]];
/* Bits below which a password is told so: our own choice. */
const GRADES = [[45, "Easy to guess: add another word."], [65, "Fair."], [90, "Good."], [Infinity, "Hard to guess."]];

/* Each letter counts as one of its sorts; one that repeats or follows the letter before, or ends three that stood there already, counts one bit. */
export function bits(text) {
  const each = Math.log2(SORTS.reduce((sum, [sort, many]) => sum + (sort.test(text) ? many : 0), 1));
  let sum = 0;
  for (let i = 0; i < text.length; i += 1) {
    const runs = i > 0 && Math.abs(text.charCodeAt(i) - text.charCodeAt(i - 1)) <= 1;
    const again = i > 2 && text.slice(0, i).includes(text.slice(i - 2, i + 1));
    sum += runs || again ? 1 : each;
  }
  return sum;
}

export function words(text) {
  const short = LEAST - text.length;
  if (short > 0) return `${short} more letter${short > 1 ? "s" : ""}.`;
  return GRADES.find(([most]) => bits(text) < most)[1];
}

document.addEventListener("alpine:init", () => {
  Alpine.data("strength", () => ({
    typed: "",
    get score() {
      return Math.min(bits(this.typed), this.typed.length < LEAST ? 40 : 100);
    },
    get words() {
      return this.typed ? words(this.typed) : "";
    },
    init() {
      this.measure(); // somebody may have typed before this script was here
    },
    measure() {
      this.typed = this.$root.querySelector("#id_password1, #id_new_password1")?.value || "";
    },
  }));
});
