/** A film of the made-up past. */
export interface Film {
  daysAgo: number;
  /** Time of day, UTC. */
  at: string;
  title: string;
  description: string;
  seconds: number;
}

const LINKS = `\n\nTimetable: https://lidos.example/timetable\nBook a lesson: https://lidos.example/lessons\nBecome a member: https://lidos.example/join\n#lido #seaswimming #coldwater`;

const lesson = (daysAgo: number, at: string, seconds: number, title: string, description: string): Film => ({
  daysAgo,
  at,
  seconds,
  title,
  description: description + LINKS,
});
const short = (daysAgo: number, at: string, seconds: number, title: string, description = ''): Film => ({
  daysAgo,
  at,
  seconds,
  title,
  description,
});

export const LIDO_FILMS: readonly Film[] = [
  lesson(
    0,
    '06:20',
    370,
    'Breathing on both sides, part 2',
    'Three drills you can try in the slow lane. Start with the wall, then a float, then without.',
  ),
  short(1, '07:15', 48, 'Sunrise swim, first frost', 'Minus one on the deck, nine in the water.'),
  lesson(
    3,
    '18:03',
    684,
    'Tumble turns without the panic: everything we teach adults in week 3',
    'If you have pushed off a wall and come up facing the wrong way, this one is for you. Rui shows the turn in four pieces.',
  ),
  lesson(
    5,
    '16:30',
    295,
    'Cold water: your first two minutes',
    'What to expect, and when to get out. Breathing out is the whole trick.',
  ),
  short(6, '07:05', 62, 'Old Quay at dusk'),
  lesson(
    8,
    '17:45',
    412,
    'Breathing on both sides, part 1',
    'Why it helps in waves, and how to start on dry land. Bring a towel to lie on.',
  ),
  short(9, '12:10', 95, 'Gannet Point reopens', 'The steps are back, and they are less slippery than before.'),
  lesson(
    11,
    '18:00',
    533,
    'Treading water for an hour (and why)',
    'The quiet kick that saves your legs. Dr. Almeida explains what tires first.',
  ),
  lesson(13, '16:40', 348, 'Reading the flags at Tern Bay', 'Four flags, four rules. The purple one is not a party.'),
  short(14, '07:20', 51, 'Sunrise swim with the choir', 'Yes, in harmony.'),
  lesson(16, '18:10', 601, 'Backstroke in open water', 'How to keep a line when there is no ceiling to look at.'),
  short(17, '09:00', 180, 'Rerun: floating for beginners', 'From the spring lessons.'),
  lesson(
    19,
    '17:30',
    455,
    'Getting out gracefully',
    'Ladders, steps and the seal method. Nobody is watching. Everybody is watching.',
  ),
  lesson(
    21,
    '16:45',
    505,
    'How we test the water twice a day',
    'Salt, temperature, and a very small bottle. Inês does the morning, Tom does the evening.',
  ),
  short(22, '07:12', 44, 'Sunrise swim, flat calm'),
  lesson(24, '18:00', 390, 'Swimming with glasses', 'Straps, prescription goggles, and the honest third option.'),
  lesson(
    26,
    '17:20',
    476,
    'Junior squad: what a session looks like',
    'An hour in six minutes, with more splashing than teaching.',
  ),
  short(28, '07:18', 57, 'Sunrise swim in the rain', 'Wet either way.'),
  lesson(
    30,
    '18:05',
    640,
    'Sighting: look up without sinking',
    'Every ninth stroke, eyes only. Practise on the clock tower.',
  ),
  lesson(33, '16:35', 362, 'Towels, robes and the art of changing', 'Warm order: top half first. Then the flask.'),
  short(35, '07:25', 49, 'Sunrise swim, last of the summer'),
  lesson(
    37,
    '17:50',
    518,
    'Front crawl arms, slowed down',
    'Filmed from below at a quarter of the speed. Watch the elbow.',
  ),
  lesson(40, '18:00', 445, 'A tour of the plant room', 'Pumps, sand, and the big red wheel nobody touches.'),
  short(42, '09:00', 175, 'Rerun: your first lesson', 'From the archive.'),
  lesson(44, '17:15', 389, 'Sculling: small hands, big difference', 'Figure eights until it clicks. It does click.'),
  lesson(47, '16:50', 556, 'Swimming after sixty', 'Four swimmers, 291 years between them.'),
  short(49, '07:30', 53, 'Sunrise swim, mist'),
  lesson(52, '18:00', 420, 'Kick from the hip', 'A pull buoy, a mirror and some honesty.'),
  lesson(55, '17:40', 610, 'What lifeguards look for', 'It is not waving. It is usually quiet.'),
  short(58, '12:00', 88, 'Gannet Point: the new rail'),
  lesson(
    61,
    '16:30',
    470,
    'Breaststroke without sore knees',
    'Narrower than you think. Mr. Teixeira shows the old way and the new way.',
  ),
  lesson(65, '18:00', 533, 'Night swim: how we light the pool', 'Two hundred lanterns and one generator.'),
  short(68, '07:10', 47, 'Sunrise swim, seals'),
  lesson(72, '17:30', 401, 'Dry land: shoulders in five minutes', 'A broom handle is all you need.'),
  lesson(76, '16:45', 588, 'Choosing a wetsuit (or not)', 'Buoyancy, zips, and the smell.'),
  short(80, '07:15', 55, 'Sunrise swim, first of August'),
  lesson(84, '18:00', 366, 'The safest way to jump in', 'Look, ask, feet first. Then look again.'),
  lesson(88, '17:20', 497, 'Open day: all the questions', 'How deep, how cold, how much. All answered.'),
];

export const BAKEHOUSE_FILMS: readonly Film[] = [
  short(
    0,
    '05:40',
    210,
    'Rye, overnight',
    'Flour, water, patience. The dough rests until the gulls wake up.\n\nOrder by six: https://marram.example/order',
  ),
  short(4, '05:35', 185, 'Shaping a batard', 'Tight, but not cross.\n\nOrder by six: https://marram.example/order'),
  short(9, '05:45', 240, 'Why the oven faces north', 'A short history of a draught.'),
  short(15, '05:30', 75, 'Buns, steaming'),
  short(22, '05:40', 330, 'Feeding the starter', 'It is called Marjorie and it is older than the shop.'),
  short(31, '05:38', 260, 'Scoring patterns', 'Wheat, wave, window.'),
];
