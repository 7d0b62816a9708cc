document.body.textContent = 'hello';
