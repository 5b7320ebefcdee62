/** Where the page keeps who is signed in. */
export const SESSION = ['session'];
