import '../shared/tokens.css';
