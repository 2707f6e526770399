// The page's handlers log what they are called with. The file fault.js names a fault, for windows narrow enough to have it.
window.told = [];
window.tell = (words) => window.told.push(String(words));
