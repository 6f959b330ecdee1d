document.getElementById('root')!.textContent = 'Jaula'
