/**
 * Words that the most common passwords are made of, as published lists of leaked ones show again and
 * again. A password of nothing but such words, figures and marks is refused, whatever its length.
 */
export const COMMON_WORDS: readonly string[] = (
  "password passwort motdepasse contrasena senha parola wachtwoord haslo losenord lozinka salasana " +
  "qwerty qwertz azerty qwertyuiop asdfghjkl zxcvbnm qazwsx asdf zxcv " +
  "admin administrator root user guest test demo login welcome willkommen bienvenue changeme " +
  "secret letmein master access default temp office company account accounting finance " +
  "iloveyou loveyou love monkey dragon shadow sunshine princess football baseball soccer " +
  "michael jessica charlie jordan hunter killer trustno flower summer winter spring autumn " +
  "january february march april may june july august september october november december " +
  "monday tuesday wednesday thursday friday saturday sunday " +
  "hello whatever freedom computer internet superstar pineapple chocolate " +
  "abc abcd abcdef abcdefgh abcdefghij one two three the is my your for new and me you"
).split(" ");
