import { definePreset } from '@primeuix/themes';
import Aura from '@primeuix/themes/aura';

const madder = {
  50: '#fbf1f2',
  100: '#f2e0e2',
  200: '#e4bfc6',
  300: '#d097a3',
  400: '#b3647a',
  500: '#8a2f45',
  600: '#7c2a3e',
  700: '#692334',
  800: '#561d2b',
  900: '#3d151f',
  950: '#260c13',
};

/** PrimeNG dressed as the workshop notebook: square corners, hairlines, no shadows, our tokens. */
export const notebook = definePreset(Aura, {
  primitive: {
    borderRadius: { none: '0', xs: '2px', sm: '3px', md: '4px', lg: '5px', xl: '6px' },
  },
  semantic: {
    primary: madder,
    transitionDuration: '0.12s',
    focusRing: { width: '2px', style: 'solid', color: 'var(--focus)', offset: '2px', shadow: 'none' },
    formField: {
      paddingX: '0.6rem',
      paddingY: '0.38rem',
      borderRadius: '{border.radius.md}',
      shadow: 'none',
      focusRing: { width: '2px', style: 'solid', color: 'var(--focus)', offset: '0', shadow: 'none' },
    },
    colorScheme: {
      light: {
        surface: {
          0: '#fffdf7',
          50: '#fbf8ef',
          100: '#f7f3ea',
          200: '#efe8d8',
          300: '#ddd5c2',
          400: '#b9ae95',
          500: '#8b8270',
          600: '#6f6e66',
          700: '#4b5060',
          800: '#313a52',
          900: '#1f2a44',
          950: '#141b2e',
        },
        primary: { color: '#8a2f45', contrastColor: '#fffdf7', hoverColor: '#7c2a3e', activeColor: '#692334' },
        text: { color: '#1f2a44', hoverColor: '#1f2a44', mutedColor: '#5a6072', hoverMutedColor: '#1f2a44' },
        formField: {
          background: '#fffdf7',
          borderColor: '#b9ae95',
          hoverBorderColor: '#1f2a44',
          focusBorderColor: '#1f2a44',
          color: '#1f2a44',
          placeholderColor: '#6f6e66',
          invalidBorderColor: '#a5342a',
        },
        highlight: { background: '#f2e3e2', focusBackground: '#f2e3e2', color: '#692334', focusColor: '#692334' },
      },
      dark: {
        surface: {
          0: '#ffffff',
          50: '#ece7da',
          100: '#d9d5cc',
          200: '#b3b4b8',
          300: '#9c9fa8',
          400: '#7b8090',
          500: '#525b70',
          600: '#414a5e',
          700: '#333a4b',
          800: '#262c3b',
          900: '#1d2230',
          950: '#161a24',
        },
        primary: { color: '#e08a9c', contrastColor: '#1d1016', hoverColor: '#e9a3b1', activeColor: '#d4768a' },
        text: { color: '#ece7da', hoverColor: '#ffffff', mutedColor: '#b3b4b8', hoverMutedColor: '#ece7da' },
        formField: {
          background: '#1d2230',
          borderColor: '#525b70',
          hoverBorderColor: '#ece7da',
          focusBorderColor: '#ece7da',
          color: '#ece7da',
          placeholderColor: '#9c9fa8',
          invalidBorderColor: '#f08d80',
        },
        highlight: { background: '#3a2631', focusBackground: '#3a2631', color: '#f4d3da', focusColor: '#f4d3da' },
      },
    },
  },
  components: {
    slider: {
      track: { size: '2px', background: 'var(--line-strong)' },
      handle: { width: '14px', height: '14px', content: { width: '8px', height: '8px' } },
    },
    toast: { root: { width: '24rem' } },
  },
});
