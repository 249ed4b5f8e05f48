/** How the letters of the demo's companies look. */
export const demoLetters = [
  {
    company: "HSF",
    register: "Register of Ostry, no. 4481",
    contact: "Tomas Reel",
    telephone: "+353 1 555 0140",
    email: "purchasing@hollin-sound.example",
    website: "hollin-sound.example",
    deliverTo: "Hollin Sound Ferries\nStores, North Quay, gate 2\nX91 0000 Ostry",
  },
  {
    company: "MBY",
    register: "Register of Merrowmouth, no. 1207",
    contact: "Tomas Reel",
    telephone: "+44 20 5550 0160",
    email: "stores@merrow-yard.example",
    website: "merrow-yard.example",
  },
  {
    company: "KIT",
    register: "Register of Kestle Island, no. 88",
    telephone: "+1 555 0107",
    email: "office@kestle-terminals.example",
    website: "kestle-terminals.example",
  },
] as const;
