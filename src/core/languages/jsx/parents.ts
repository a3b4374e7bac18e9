/** Components of packages that look at their children one by one: their types, their props, or by cloning them. */

/** Whatever package they come from. */
const READ = new RegExp(
  `^(?:${[
    // Routing and navigation.
    'Routes|Switch|Router\\.Switch|\\w+\\.(?:Navigator|Group)|\\w*Navigator',
    // Choices, and what is in them.
    '\\w*(?:Tabs|TabList|TabPanels|Select|Picker|Dropdown|Menu|MenuList|ButtonGroup|RadioGroup|CheckboxGroup|ToggleGroup|Stepper|Steps|Breadcrumbs?|Carousel|AvatarGroup)',
    'Tab\\.List|Menu\\.SubMenu|Select\\.OptGroup|SegmentedControl|ContentSwitcher|TileGroup|SideNav\\w*',
    // Steps, lists, columns.
    'Timeline|ProgressIndicator|Avatar\\.Group|Space|Descriptions|Collapse|Accordion|Datagrid|Table\\.ColumnGroup|TabbedForm|TabbedShowLayout|SimpleShowLayout|BottomNavigation|SpeedDial|ImageList|GridList',
    // Sliders.
    'Slider|Swiper|ViewPager|PagerView|Slick',
    // What wraps one child and clones it.
    'Tooltip|Popover|Popconfirm|Popper|OverlayTrigger|Whisper|HoverCard|Slot|Fade|Grow|Slide|Zoom|ClickAwayListener|TrapFocus|Form\\.Item|Dropdown\\.Toggle|Touchable\\w+Feedback',
    'TransitionGroup|CSSTransition|SwitchTransition|Transition|AnimatePresence|ReplaceTransition',
    // Drawings of data, heads of documents, texts to translate.
    '\\w*Chart|VictoryGroup|VictoryStack|Helmet|Head|Trans|Translate|FormattedMessage',
  ].join('|')})$`,
);

export function readsItsChildren(tag: string): boolean {
  return READ.test(tag);
}
